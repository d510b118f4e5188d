/** The shelf to start from: ordinary supplies by kind. Tick, change amount and cost, add. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { addStarter, starterShelf } from "../../api/cupboard";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { numberText } from "../../domain/numbers";
import { Button, ProblemNote, Waiting } from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import { FIRST_AMOUNT, STOCK_UNIT, type StarterItem } from "./starter";

/** What lies on which shelf; each heading stays in sight while its shelf is scrolled. */
const SHELVES = [
  ["A", "Cartons and mailers"],
  ["B", "Wraps"],
  ["C", "Fills and tapes"],
  ["D", "Cards and labels"],
] as const;

type Changed = Record<string, { amount: string; cost: string }>;

export function Starter({ onAdded }: { onAdded?: () => void }) {
  const list = useQuery(starterShelf());
  const say = useToast();
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [changed, setChanged] = useState<Changed>({});
  const format = useFormat();
  const add = useMutation({
    ...addStarter(),
    onSuccess: ({ added }) => {
      setTicked(new Set());
      say(`${added} ${added === 1 ? "supply" : "supplies"} added. Count what is really there.`);
      onAdded?.();
    },
  });
  const rows = list.data?.supplies ?? [];
  const chosen = rows.filter((row) => !row.there && ticked.has(row.supply.code));
  const perUnit = (item: StarterItem) => format.inStock(1, STOCK_UNIT(item));
  const values = (item: StarterItem, ordinary = false) =>
    (ordinary ? undefined : changed[item.code]) ?? {
      amount: String(
        Math.round(format.inStock(FIRST_AMOUNT[item.facts.kind] ?? 0, STOCK_UNIT(item))),
      ),
      // Of one of what is shown: a square foot costs less than a square metre.
      cost: String(Number((Number(item.unit_cost) / perUnit(item)).toFixed(4))),
    };
  const send = () => {
    if (chosen.length > 0 && !add.isPending)
      add.mutate(
        chosen.map(({ supply }) => {
          const { amount, cost } = values(supply);
          const typed = numberText(cost) || "0";
          const own = Number(typed) !== Number(values(supply, true).cost);
          const paid = own
            ? String(Number((Number(typed) * perUnit(supply)).toFixed(6)))
            : supply.unit_cost;
          return {
            ...supply,
            on_hand: format.toStock(amount || "0", STOCK_UNIT(supply)),
            unit_cost: paid,
            estimated: (supply.estimated ?? []).filter((name) => name !== "unit_cost" || !own),
          };
        }),
      );
  };
  useActions([{ key: "a", label: "Add the ticked supplies", run: send, off: chosen.length === 0 }]);
  if (list.isPending) return <Waiting what="the shelf to start from" />;
  if (list.isError) return <ProblemNote error={list.error} />;
  const toggle = (code: string) =>
    setTicked((now) => {
      const next = new Set(now);
      if (!next.delete(code)) next.add(code);
      return next;
    });
  return (
    <section aria-labelledby="starter">
      <h2 id="starter" className="text-[21px] leading-tight">
        The shelf to start from
      </h2>
      <p className="text-small text-ink2">
        {rows.length} ordinary supplies: cartons, mailers, wraps, fills, tapes, cards. Tick what you
        have, correct how many and what one cost you; weights are estimates until you measure.
      </p>
      <div
        className="mt-2 max-h-[430px] overflow-y-auto pr-1"
        role="group"
        aria-label="Ordinary supplies"
      >
        {SHELVES.map(([shelf, name]) => {
          const mine = rows.filter((row) => row.supply.shelf === shelf);
          return mine.length === 0 ? null : (
            <div key={shelf} className="border-b-4 border-board pb-1.5">
              <h3 className="sticky top-0 bg-ground pb-0.5 pt-2 font-text text-small font-semibold">
                {name} <span className="font-normal text-ink2">{mine.length}</span>
              </h3>
              {mine.map((row) => (
                <Row
                  key={row.supply.code}
                  row={row}
                  ticked={ticked.has(row.supply.code)}
                  values={values(row.supply)}
                  onTick={() => toggle(row.supply.code)}
                  onChange={(now) => setChanged((all) => ({ ...all, [row.supply.code]: now }))}
                />
              ))}
            </div>
          );
        })}
      </div>
      <ProblemNote error={add.error} />
      <Button
        className="mt-3"
        hotkey="A"
        disabled={chosen.length === 0 || add.isPending}
        onClick={send}
      >
        {chosen.length === 0 ? "Add what is ticked" : `Add the ${chosen.length} ticked`}
      </Button>
    </section>
  );
}

function Row({
  row,
  ticked,
  values,
  onTick,
  onChange,
}: {
  row: Schemas["StarterOut"];
  ticked: boolean;
  values: { amount: string; cost: string };
  onTick: () => void;
  onChange: (now: { amount: string; cost: string }) => void;
}) {
  const format = useFormat();
  const { supply } = row;
  const stock = STOCK_UNIT(supply);
  const unit = format.stockUnit(stock);
  const price =
    stock === "pieces"
      ? `${format.money(supply.unit_cost)} each`
      : format.unitCost(supply.unit_cost, stock);
  const box = "h-8 w-16 rounded-part border border-line2 bg-sheet px-1.5 text-right text-small";
  return (
    <div>
      <label className="flex min-h-8 items-center gap-2">
        <input
          type="checkbox"
          className="size-4 shrink-0 accent-action"
          checked={ticked || row.there}
          disabled={row.there}
          onChange={onTick}
        />
        <span className={`min-w-0 grow leading-tight ${row.there ? "text-ink2" : ""}`}>
          {supply.name}
        </span>
        <span className="shrink-0 text-small text-ink2">{row.there ? "there" : price}</span>
      </label>
      {ticked && !row.there ? (
        <p className="flex items-center gap-2 pb-1.5 pl-6 text-small text-ink2">
          <input
            aria-label={`How many of ${supply.name}`}
            className={box}
            inputMode="decimal"
            value={values.amount}
            onChange={(event) => onChange({ ...values, amount: event.target.value })}
          />
          {unit}, one at
          <input
            aria-label={`Cost of ${supply.name}`}
            className={box}
            inputMode="decimal"
            value={values.cost}
            onChange={(event) => onChange({ ...values, cost: event.target.value })}
          />
        </p>
      ) : null}
    </div>
  );
}
