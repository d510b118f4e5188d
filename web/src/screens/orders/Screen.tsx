/** Orders: what came in, what may not be packed yet, and why. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { orders, rail, type OrderState } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { dayWords, goodsWords, STATE_WORDS } from "../../domain/words";
import { OPENS } from "../../ui/rows";
import { useToast } from "../../ui/overlays";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { usePlanAll, WaveNotice } from "./WaveNotice";

type Order = Schemas["OrderOut"];

const FILTERS: { state: OrderState; name: string }[] = [
  { state: "open", name: "Open" },
  { state: "held", name: "Held" },
  { state: "planned", name: "Planned" },
  { state: "bench", name: "At the bench" },
  { state: "packed", name: "Packed" },
];

export function OrdersScreen() {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const state =
    FILTERS.find((one) => one.state === params.get("state"))?.state ??
    (params.get("find") ? undefined : "open");
  const search = params.get("find") ?? "";
  const page = Number(params.get("page") ?? "1") || 1;
  const list = useQuery(orders(state, search, page));
  const counts = useQuery(rail());
  const planAll = usePlanAll();
  const [picked, setAt] = useState<number | null>(null);
  const rows = list.data?.results ?? [];
  // Until one is picked it is the one to do next: the first that can be packed.
  const next = Math.max(
    0,
    rows.findIndex((row) => row.state === "planned"),
  );
  const at = picked ?? next;
  const open = (order: Order | undefined) => {
    if (order) void navigate(order.parcel_id ? `/bench/${order.parcel_id}` : `/plan/${order.id}`);
  };
  const show = (next: OrderState | undefined) => {
    setAt(null);
    setParams(next ? { state: next } : {});
  };
  useActions([
    {
      key: "arrowdown",
      label: "Next order",
      run: () => setAt(Math.min(at + 1, rows.length - 1)),
    },
    { key: "arrowup", label: "Order before", run: () => setAt(Math.max(at - 1, 0)) },
    { key: "enter", label: "Open the order", run: () => open(rows[at]) },
    { key: "r", label: "Plan all open orders again", run: () => planAll.mutate() },
    { key: "i", label: "Import file", run: () => void navigate("/orders/intake") },
  ]);
  const held = counts.data?.held ?? 0;
  const headline = !counts.data
    ? "Orders"
    : counts.data.orders === 0
      ? "Nothing is waiting"
      : `${counts.data.plan} can be packed, ${held} ${held === 1 ? "is" : "are"} held`;
  return (
    <>
      <ScreenHead
        title={headline}
        under={
          counts.data
            ? `${counts.data.orders} open orders, ${counts.data.bench} at the bench, ${counts.data.packed} packed`
            : undefined
        }
      >
        <Button hotkey="R" disabled={planAll.isPending} onClick={() => planAll.mutate()}>
          Plan all again
        </Button>
        <Button kind="next" hotkey="I" onClick={() => void navigate("/orders/intake")}>
          Import file
        </Button>
      </ScreenHead>
      <WaveNotice />
      <div className="bg-sheet">
        <div
          className="flex items-center gap-1 border-b border-line px-5"
          role="group"
          aria-label="Show"
        >
          {FILTERS.map((one) => (
            <button
              key={one.name}
              type="button"
              aria-pressed={one.state === state}
              onClick={() => show(one.state)}
              className={`min-h-10 border-b-2 px-3 ${one.state === state ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
            >
              {one.name}
            </button>
          ))}
          {search ? (
            <p className="ml-4 text-ink2">
              matching “{search}”{" "}
              <button
                type="button"
                className="ml-2 text-action underline"
                onClick={() => setParams(state ? { state } : {})}
              >
                show all
              </button>
            </p>
          ) : null}
        </div>
        {list.isPending ? <Waiting what="the orders" /> : null}
        {list.isError ? (
          <div className="p-6">
            <ProblemNote error={list.error} />
          </div>
        ) : null}
        {list.isSuccess && rows.length === 0 ? (
          <Empty
            title={
              state && state !== "open"
                ? `No order is ${STATE_WORDS[state]}`
                : "No order is waiting"
            }
          >
            <p>
              Import a file from one of your channels.{" "}
              <Link className="text-action underline" to="/orders/intake">
                Choose the file
              </Link>
            </p>
          </Empty>
        ) : null}
        {rows.length > 0 ? <OrderTable rows={rows} at={at} onAt={setAt} onOpen={open} /> : null}
        {list.data && list.data.pages > 1 ? (
          <div className="flex items-center gap-3 px-6 py-3">
            <Button
              disabled={page <= 1}
              onClick={() => setParams({ ...(state ? { state } : {}), page: String(page - 1) })}
            >
              Earlier
            </Button>
            <span className="text-ink2">
              page {page} of {list.data.pages}
            </span>
            <Button
              disabled={page >= list.data.pages}
              onClick={() => setParams({ ...(state ? { state } : {}), page: String(page + 1) })}
            >
              Later
            </Button>
          </div>
        ) : null}
      </div>
    </>
  );
}

function OrderTable({
  rows,
  at,
  onAt,
  onOpen,
}: {
  rows: Order[];
  at: number;
  onAt: (n: number) => void;
  onOpen: (order: Order) => void;
}) {
  const format = useFormat();
  return (
    <table className="rule-table">
      <caption className="sr-only">Orders with their status and the reason</caption>
      <thead>
        <tr>
          <th scope="col" className="pl-6!">
            Order
          </th>
          <th scope="col">Came</th>
          <th scope="col">For</th>
          <th scope="col">Goods</th>
          <th scope="col">Status</th>
          <th scope="col" className="num">
            In
          </th>
          <th scope="col" className="num">
            Total cost
          </th>
          <th scope="col" className="num pr-6!">
            Postage paid
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((order, index) => (
          <tr
            key={order.id}
            {...OPENS}
            onMouseEnter={() => onAt(index)}
            aria-selected={index === at}
            className={index === at ? "bg-soft" : ""}
          >
            <td className="pl-6!">
              <button
                type="button"
                className="font-semibold text-action hover:underline"
                onClick={() => onOpen(order)}
              >
                {order.number}
              </button>
            </td>
            <td className="whitespace-nowrap text-ink2">{dayWords(order.placed_on)}</td>
            <td>
              {order.buyer}
              <span className="block text-small text-ink2">
                {order.address.at(-1)} {order.postcode}
              </span>
            </td>
            <td className="max-w-72">
              {goodsWords(order.lines)}
              {order.note ? (
                <span className="block text-small text-ink2">“{order.note}”</span>
              ) : null}
            </td>
            <td className="max-w-96">
              <Standing order={order} />
            </td>
            <td className="num">{order.container || ""}</td>
            <td className="num">{order.total ? format.money(order.total) : ""}</td>
            <td className="num pr-6!">{format.money(order.postage_charged)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Standing({ order }: { order: Order }) {
  const client = useQueryClient();
  const say = useToast();
  const release = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/orders/{order_id}/release", { params: { path: { order_id: order.id } } }),
      ),
    onSuccess: (now) => {
      say(`Order ${now.number} is ${STATE_WORDS[now.state] ?? now.state} now.`);
      void client.invalidateQueries();
    },
    onError: (error) => say(error.message, "stop"),
  });
  if (order.state === "held") {
    return (
      <div className="flex items-start gap-2">
        <Mark kind={order.held_by ? "mind" : "stop"} />
        <div>
          <b className={order.held_by ? "text-mind" : "text-stop"}>Held.</b> {order.reason}
          {order.held_by ? (
            <button
              type="button"
              className="ml-2 text-action underline"
              disabled={release.isPending}
              onClick={() => release.mutate()}
            >
              Release
            </button>
          ) : null}
        </div>
      </div>
    );
  }
  if (order.state === "packed")
    return (
      <span>
        <Mark kind="done" /> Packed <span className="text-ink2">{order.tracking}</span>
      </span>
    );
  return (
    <span className={order.state === "bench" ? "font-semibold" : "text-ink2"}>
      {(STATE_WORDS[order.state] ?? order.state).replace(/^./, (c) => c.toUpperCase())}
    </span>
  );
}
