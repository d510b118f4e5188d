/** To buy: what must be ordered by when, from whom, within what money; and why. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { buyingSettings, buyList, outlook } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { Outlook } from "../../drawings/Outlook";
import type { StockUnit } from "../../domain/units";
import { useDraft } from "../../ui/useDraft";
import { Button, Empty, Mark, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { CupboardTabs } from "../cupboard/Tabs";
import { BudgetRuler } from "./BudgetRuler";
import { BuyingSettingsSheet } from "./BuyingSettingsSheet";
import { HowMany } from "./HowMany";
import { OrderLines } from "./OrderLines";
import { OrderSheet } from "./OrderSheet";
import { inShown, measured, shownOutlook } from "./shown";

type List = Schemas["BuyListOut"];

interface Edits {
  quantities: Record<string, string>;
  without: number[];
}

const NONE: Edits = { quantities: {}, without: [] };

export function BuyScreen() {
  const { edits, set, drop, undo, raise } = useEdits();
  const list = useQuery(buyList(edits));
  const [picked, setPicked] = useState<number | null>(null);
  // The list moves on when it is ordered: the sheet keeps what it was opened with.
  const [ordering, setOrdering] = useState<Schemas["BuyOrderOut"] | null>(null);
  const [settings, setSettings] = useState(false);
  const owner = useSession().role === "owner";
  const rules = useQuery(buyingSettings());
  const lines = list.data?.orders.flatMap((order) => order.lines) ?? [];
  const here = lines.find((line) => line.supply_id === picked) ?? lines[0];
  const order = list.data?.orders.find((one) => one.lines.some((line) => line === here));
  const at = here ? lines.indexOf(here) : -1;
  useActions([
    {
      key: "arrowdown",
      label: "Next line",
      run: () => setPicked(lines[Math.min(at + 1, lines.length - 1)]?.supply_id ?? null),
    },
    {
      key: "arrowup",
      label: "Line before",
      run: () => setPicked(lines[Math.max(at - 1, 0)]?.supply_id ?? null),
    },
    {
      key: "enter",
      label: "Order from the supplier",
      run: () => setOrdering(order ?? null),
      off: !owner || !order,
    },
    { key: "b", label: "Budget and rules", run: () => setSettings(true), off: !owner },
  ]);
  if (list.isPending) return <Waiting what="what to buy" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const data = list.data;
  return (
    <>
      <CupboardTabs />
      <ScreenHead title={headline(data, order)} under={<Under data={data} />}>
        <Button hotkey="B" disabled={!owner} onClick={() => setSettings(true)}>
          Budget and rules
        </Button>
        {order ? (
          <Button
            kind="next"
            hotkey="Enter"
            disabled={!owner}
            onClick={() => setOrdering(order ?? null)}
          >
            Order from {order.supplier}
          </Button>
        ) : null}
      </ScreenHead>
      <div className="grid grid-cols-[minmax(0,1fr)_440px] border-t border-line max-lg:grid-cols-1">
        <div className="min-w-0 bg-sheet px-6 py-4">
          {here && order ? (
            <Ahead id={here.supply_id} line={here} arrives={order.arrives_on} />
          ) : null}
          {lines.length === 0 && edits.without.length === 0 ? (
            <Empty title="Nothing needs ordering">
              <p>
                What must be ordered within {rules.data?.within_days ?? 3} working days stands here,
                with what its supplier would bring along. Offers are written down under{" "}
                <Link className="text-action underline" to="/purchases?show=suppliers">
                  Ordered, suppliers
                </Link>
                .
              </p>
            </Empty>
          ) : (
            <OrderLines
              data={data}
              picked={here?.supply_id ?? null}
              onPick={setPicked}
              onDrop={drop}
            />
          )}
          <Changed edits={edits} onUndo={undo} />
        </div>
        <aside
          className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t"
          aria-label="Amounts and money"
        >
          {here ? (
            <HowMany line={here} onQuantity={(quantity) => set(here.supply_id, quantity)} />
          ) : null}
          {order?.to_free ? <FreeDelivery order={order} onTake={() => raise(order)} /> : null}
          {data.budget ? <BudgetRuler data={data} budget={data.budget} /> : null}
          <LeftOut data={data} />
        </aside>
      </div>
      {ordering ? (
        <OrderSheet
          order={ordering}
          onClose={() => setOrdering(null)}
          onOrdered={() => {
            undo();
            setPicked(null);
          }}
        />
      ) : null}
      {settings && rules.data ? (
        <BuyingSettingsSheet now={rules.data} onClose={() => setSettings(false)} />
      ) : null}
    </>
  );
}

/** What a person changed of the list; kept on this device until it is ordered. */
function useEdits() {
  const { value: edits, setValue: setEdits } = useDraft<Edits>("buy-list", () => NONE);
  return {
    edits,
    set: (supply: number, quantity: string) =>
      setEdits({ ...edits, quantities: { ...edits.quantities, [String(supply)]: quantity } }),
    drop: (supply: number) => setEdits({ ...edits, without: [...edits.without, supply] }),
    undo: () => setEdits(NONE),
    /** Order what makes the delivery free. */
    raise: (order: Schemas["BuyOrderOut"]) => {
      const quantities = { ...edits.quantities };
      for (const [code, more] of Object.entries(order.to_free?.adds ?? {})) {
        const line = order.lines.find((one) => one.code === code);
        if (line) quantities[String(line.supply_id)] = String(Number(line.quantity) + Number(more));
      }
      setEdits({ ...edits, quantities });
    },
  };
}

function Changed({ edits, onUndo }: { edits: Edits; onUndo: () => void }) {
  const out = edits.without.length;
  if (out === 0 && Object.keys(edits.quantities).length === 0) return null;
  return (
    <p className="mt-4 text-ink2">
      You changed this list{out > 0 ? `: ${many(out, "line")} left out by you` : ""}.{" "}
      <button type="button" className="text-action underline" onClick={onUndo}>
        Undo all changes
      </button>
    </p>
  );
}

function headline(data: List, order: Schemas["BuyOrderOut"] | undefined): string {
  if (!order) return data.left_out.length > 0 ? "The budget is used up" : "Nothing needs ordering";
  const by = order.order_by;
  const when = by === null ? "" : by <= data.today ? " today" : ` by ${dayWords(by)}`;
  return `Order from ${order.supplier}${when}: ${many(order.lines.length, "line")}`;
}

function Under({ data }: { data: List }) {
  const format = useFormat();
  const parts = [
    data.orders.length > 1
      ? `${many(data.orders.length, "supplier")}, ${format.money(data.total)} in all`
      : "",
    data.outcome === "exact"
      ? `the best within the budget; by rule of thumb ${many(data.thumb_lines, "line")} would be bought${
          data.thumb_first_run_out
            ? ` and the first is gone ${dayWords(data.thumb_first_run_out)}`
            : ""
        }`
      : "",
    data.outcome === "bounded" ? "the best found; too many lines to be sure" : "",
    data.without_offer.length > 0
      ? `nobody offers ${data.without_offer.slice(0, 3).join(", ")}`
      : "",
  ].filter(Boolean);
  return (
    <>{parts.join("; ") || "What must be ordered soon, and what its suppliers would bring along"}</>
  );
}

/** The picked line's outlook. */
function Ahead({
  id,
  line,
  arrives,
}: {
  id: number;
  line: Schemas["BuyLineOut"];
  arrives: string;
}) {
  const page = useQuery(outlook(id));
  const format = useFormat();
  if (!page.data || page.data.supply_id !== id) return <div className="h-[380px]" />;
  const unit = line.unit as StockUnit;
  return (
    <section aria-label={line.name} className="mb-4">
      <h2 className="flex flex-wrap items-baseline gap-x-4 text-lead">
        <Link className="hover:underline" to={`/cupboard/${id}`}>
          {line.code} {line.name}
        </Link>
        <span className="font-text text-base font-normal text-ink2">
          {format.quantity(page.data.per_day, unit)} a working day, give or take{" "}
          {measured(format, unit)(page.data.sd)}; {format.quantity(line.reserved, unit)} reserved
        </span>
      </h2>
      <Outlook
        shown={shownOutlook(
          page.data,
          { quantity: line.quantity, arrives },
          format.inStock(1, unit),
        )}
        amount={inShown(format, unit)}
      />
    </section>
  );
}

function FreeDelivery({ order, onTake }: { order: Schemas["BuyOrderOut"]; onTake: () => void }) {
  const format = useFormat();
  const { to_free } = order;
  if (!to_free) return null;
  const mine = Object.keys(to_free.adds).every((code) =>
    order.lines.some((one) => one.code === code),
  );
  const amountOf = (code: string, more: string | number) =>
    measured(format, order.lines.find((one) => one.code === code)?.unit ?? "pieces")(more);
  return (
    <div className="mt-4">
      <Notice kind="mind" action={mine ? <Button onClick={onTake}>Apply</Button> : null}>
        <b>
          {format.money(to_free.goods_cost)} more makes the delivery free,{" "}
          {format.money(to_free.saves)} less.
        </b>{" "}
        {Object.entries(to_free.adds)
          .map(([code, more]) => `${amountOf(code, more)} ${code}`)
          .join(", ")}
        : it is used within the longest cover.
      </Notice>
    </div>
  );
}

function LeftOut({ data }: { data: List }) {
  const format = useFormat();
  if (data.left_out.length === 0) return null;
  return (
    <section className="mt-6">
      <h2 className="border-b border-line2 pb-1.5 text-lead">
        Left out, and when you will miss it
      </h2>
      <ul>
        {data.left_out.map((one) => (
          <li key={one.supply_id} className="border-b border-line py-2">
            <p className="flex justify-between gap-3">
              <span>
                <Link
                  className="font-semibold text-action hover:underline"
                  to={`/cupboard/${one.supply_id}`}
                >
                  {one.code}
                </Link>{" "}
                {one.name}
              </span>
              <span className="whitespace-nowrap">
                {measured(format, one.unit)(one.quantity)} for {format.money(one.goods_cost)}
              </span>
            </p>
            <p className="text-small text-ink2">
              <Mark kind={one.missed_from ? "stop" : "ok"} />{" "}
              {one.missed_from ? (
                <b className="text-stop">Missed from {dayWords(one.missed_from)}: </b>
              ) : (
                "Not missed soon: "
              )}
              about {measured(format, one.unit)(one.per_week)} a week, from {one.supplier}.
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}
