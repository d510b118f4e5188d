/** Orders to suppliers: what is on its way, receiving it, what came; and the suppliers themselves. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { cancelPurchase, expectPurchase, purchases, waitingOrders } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useFormat, useSession } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import type { StockUnit } from "../../domain/units";
import { useAddress } from "../../ui/list/useList";
import { BESIDE, Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Pager } from "../../ui/Pager";
import { useToast } from "../../ui/useToast";
import { CupboardTabs } from "../cupboard/Tabs";
import { ReceiveSheet } from "./ReceiveSheet";
import { Suppliers } from "./Suppliers";

type Purchase = Schemas["PurchaseOut"];

const SHOWN = [
  ["ordered", "On their way"],
  ["received", "Received"],
  ["cancelled", "Cancelled"],
  ["suppliers", "Suppliers"],
] as const;

export function PurchasesScreen() {
  const [params, set] = useAddress();
  const show = params.get("show") ?? "ordered";
  return (
    <>
      <CupboardTabs />
      {show === "suppliers" ? <Suppliers filters={<Filters show={show} onShow={set} />} /> : null}
      {show === "suppliers" ? null : (
        <Purchases key={show} state={show} filters={<Filters show={show} onShow={set} />} />
      )}
    </>
  );
}

function Filters({
  show,
  onShow,
}: {
  show: string;
  onShow: (change: Record<string, string | null>) => void;
}) {
  return (
    <div className="flex gap-2" role="group" aria-label="Show">
      {SHOWN.map(([key, name]) => (
        <Button
          key={key}
          kind={key === show ? "plain" : "quiet"}
          aria-pressed={key === show}
          onClick={() => onShow({ show: key === "ordered" ? null : key, open: null })}
        >
          {name}
        </Button>
      ))}
    </div>
  );
}

function Purchases({ state, filters }: { state: string; filters: React.ReactNode }) {
  const [page, setPage] = useState(1);
  const query = useQuery(purchases(state, page));
  const [receiving, setReceiving] = useState<Purchase | null>(null);
  if (query.isPending) return <Waiting what="the orders" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const { results, count, pages } = query.data;
  const late = results.filter((one) => state === "ordered" && one.days_late > 0);
  return (
    <>
      <ScreenHead
        title={
          state !== "ordered"
            ? `${many(count, "order")} ${state}`
            : count === 0
              ? "Nothing is on its way"
              : count === 1
                ? "1 order is on its way"
                : `${count} orders are on their way`
        }
        under={
          late.length > 0
            ? `${late.map((one) => `P-${one.number} from ${one.supplier}`).join(", ")}: late`
            : "What was ordered from suppliers"
        }
      >
        {filters}
      </ScreenHead>
      <div className="border-t border-line bg-sheet px-6 py-4">
        {results.length === 0 ? (
          <Empty title="No orders here">
            <p>Orders are made from the list under To buy.</p>
          </Empty>
        ) : null}
        {results.map((one) => (
          <One key={one.id} purchase={one} onReceive={() => setReceiving(one)} />
        ))}
        <Pager page={page} pages={pages} onPage={setPage} />
      </div>
      {receiving ? <ReceiveSheet purchase={receiving} onClose={() => setReceiving(null)} /> : null}
    </>
  );
}

function One({ purchase, onReceive }: { purchase: Purchase; onReceive: () => void }) {
  const format = useFormat();
  const say = useToast();
  const owner = useSession().role === "owner";
  const [day, setDay] = useState<string | null>(null);
  const expect = useMutation({
    ...expectPurchase(),
    onSuccess: () => setDay(null),
    onError: (error) => say(error.message, "stop"),
  });
  const cancel = useMutation({
    ...cancelPurchase(),
    onError: (error) => say(error.message, "stop"),
  });
  const open = purchase.state === "ordered";
  const waiting = useQuery(waitingOrders()).data?.orders ?? {};
  return (
    <section className="mb-5" aria-label={`P-${purchase.number}`}>
      <h2 className="flex flex-wrap items-baseline justify-between gap-x-4 border-b border-ink pb-1 text-lead">
        <span>
          P-{purchase.number} {purchase.supplier}{" "}
          <span className="font-text text-base font-normal text-ink2">
            ordered {dayWords(purchase.ordered_on)}
            {open ? `, expected ${dayWords(purchase.expected_on)}` : ""}
          </span>
          {open && purchase.days_late > 0 ? (
            <span className="font-text text-base text-stop">
              {" "}
              <Mark kind="stop" /> {many(purchase.days_late, "day")} late
            </span>
          ) : null}
        </span>
        <b>{format.money(purchase.total)}</b>
      </h2>
      <ul>
        {purchase.lines.map((line) => (
          <li key={line.id} className="flex gap-4 border-b border-line py-1.5">
            <span className="min-w-0 grow">
              <b>{line.code}</b> {line.name}
            </span>
            <span>
              {open && (waiting[String(line.supply_id)] ?? []).length > 0 ? (
                <b className="text-stop">
                  waited for by {waiting[String(line.supply_id)]?.slice(0, 4).join(", ")}:{" "}
                </b>
              ) : null}
              {format.quantity(line.quantity, line.unit as StockUnit)}
              {Number(line.received) > 0
                ? `, ${format.quantity(line.received, line.unit as StockUnit)} came`
                : ""}
              {open && !line.closed && Number(line.received) > 0
                ? `, ${format.quantity(line.open, line.unit as StockUnit)} to come`
                : ""}
            </span>
            <span className="w-16 text-right">{format.money(line.goods_cost)}</span>
          </li>
        ))}
        {Number(purchase.delivery_cost) > 0 ? (
          <li className="flex gap-4 border-b border-line py-1.5 text-ink2">
            <span className="grow">Delivery</span>
            <span className="w-16 text-right">{format.money(purchase.delivery_cost)}</span>
          </li>
        ) : null}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        {open ? (
          <Button kind="next" onClick={onReceive}>
            Receive
          </Button>
        ) : null}
        {open && day === null ? (
          <Button onClick={() => setDay(purchase.expected_on)}>Change the day</Button>
        ) : null}
        {day !== null ? (
          <form
            className="flex items-center gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              expect.mutate({ id: purchase.id, expected_on: day });
            }}
          >
            <input
              type="date"
              required
              aria-label="Expected on"
              className="min-h-10 rounded-part border border-line2 bg-sheet px-3"
              value={day}
              onChange={(event) => setDay(event.target.value)}
            />
            <Button type="submit" disabled={expect.isPending}>
              Save
            </Button>
          </form>
        ) : null}
        <a
          className="text-action underline"
          href={`/api/purchases/${purchase.id}/order.pdf`}
          {...BESIDE}
        >
          on paper
        </a>
        <a className="text-action underline" href={`/api/purchases/${purchase.id}/order.csv`}>
          as CSV
        </a>
        {open && owner ? (
          <Button
            kind="quiet"
            disabled={cancel.isPending}
            onClick={() => cancel.mutate(purchase.id)}
          >
            Cancel the rest
          </Button>
        ) : null}
      </div>
    </section>
  );
}
