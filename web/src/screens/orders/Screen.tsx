/** Orders: what came in, what may not be packed yet, and why. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { rail } from "../../api/frame";
import { orders, type OrderState } from "../../api/orders";
import { useActions } from "../../app/keys";
import { STATE_WORDS } from "../../domain/words";
import { ListBar, Pages } from "../../ui/list/ListBar";
import { useAddress } from "../../ui/list/useList";
import { Button, Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { OrderTable, type Order } from "./OrderTable";
import { LookNotice } from "./LookNotice";
import { usePlanAll, WaveNotice } from "./WaveNotice";

const FILTERS: { key: OrderState; name: string }[] = [
  { key: "open", name: "Open" },
  { key: "held", name: "Held" },
  { key: "planned", name: "Planned" },
  { key: "bench", name: "At the bench" },
  { key: "packed", name: "Packed" },
  { key: "joined", name: "Joined" },
  { key: "cancelled", name: "Cancelled" },
];

export function OrdersScreen() {
  const [params, set] = useAddress();
  const navigate = useNavigate();
  const state =
    FILTERS.find((one) => one.key === params.get("state"))?.key ??
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
    // A cancelled order has no plan to open; its way back is in its row.
    if (order && order.state !== "cancelled" && (order.state !== "joined" || order.parcel_id))
      void navigate(order.parcel_id ? `/bench/${order.parcel_id}` : `/plan/${order.id}`);
  };
  const show = (key: string) => {
    setAt(null);
    set({ state: key, find: null, page: null });
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
    { key: "l", label: "Look at changes", run: () => void navigate("/orders/changes") },
    { key: "n", label: "New order", run: () => void navigate("/orders/new") },
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
        <Button hotkey="N" onClick={() => void navigate("/orders/new")}>
          New order
        </Button>
        <Button kind="next" hotkey="I" onClick={() => void navigate("/orders/intake")}>
          Import file
        </Button>
      </ScreenHead>
      <WaveNotice />
      <LookNotice />
      <div className="bg-sheet">
        <ListBar
          filters={FILTERS}
          filter={state}
          onFilter={show}
          search={search}
          onSearch={(text) => {
            setAt(null);
            set({ find: text, page: null });
          }}
          searchLabel="Search orders"
        />
        {list.isPending ? <Waiting what="the orders" /> : null}
        {list.isError ? (
          <div className="p-6">
            <ProblemNote error={list.error} />
          </div>
        ) : null}
        {list.isSuccess && rows.length === 0 ? <NoOrder state={state} search={search} /> : null}
        {rows.length > 0 ? <OrderTable rows={rows} at={at} onAt={setAt} onOpen={open} /> : null}
        <Pages
          page={page}
          pages={list.data?.pages ?? 1}
          onTurn={(to) => set({ page: String(to) })}
          back="Earlier"
          on="Later"
        />
      </div>
    </>
  );
}

function NoOrder({ state, search }: { state: OrderState | undefined; search: string }) {
  const title = search
    ? `No order matches “${search}”`
    : state && state !== "open"
      ? `No order is ${STATE_WORDS[state]}`
      : "No order is waiting";
  return (
    <Empty title={title}>
      <p>
        Import a file from one of your channels, or type an order in.{" "}
        <Link className="text-action underline" to="/orders/intake">
          Choose the file
        </Link>{" "}
        <Link className="text-action underline" to="/orders/new">
          New order
        </Link>
      </p>
    </Empty>
  );
}
