/** How many of one line: every amount that was weighed, what each costs a year, and one of one's own. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { outlook } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import type { StockUnit } from "../../domain/units";
import { dayWords } from "../../domain/words";
import { Button, Field, Mark } from "../../ui/parts";
import { eachCost, measured } from "./shown";

interface Props {
  line: Schemas["BuyLineOut"];
  onQuantity: (quantity: string) => void;
}

export function HowMany({ line, onQuantity }: Props) {
  const page = useQuery(outlook(line.supply_id));
  const format = useFormat();
  const unit = line.unit as StockUnit;
  const amountOf = measured(format, unit);
  const [typed, setTyped] = useState("");
  const offer = page.data?.offers.find((one) => one.best) ?? page.data?.offers[0];
  return (
    <section>
      <h2 className="text-lead">How many {line.code}?</h2>
      <table className="rule-table mt-1">
        <thead>
          <tr>
            <th>{unit === "pieces" ? "Pieces" : "Amount"}</th>
            <th className="num">Each</th>
            <th className="num">This order</th>
            <th className="num">Lasts until</th>
            <th className="num">A year</th>
          </tr>
        </thead>
        <tbody>
          {offer?.amounts.map((amount) => {
            const here = Number(amount.quantity) === Number(line.quantity);
            return (
              <tr key={amount.quantity} aria-selected={here} className={here ? "bg-soft" : ""}>
                <td>
                  <button
                    type="button"
                    className="inline-flex min-h-9 items-center gap-2 disabled:opacity-60"
                    disabled={amount.barred !== ""}
                    aria-pressed={here}
                    onClick={() => onQuantity(amount.quantity)}
                  >
                    <span
                      aria-hidden="true"
                      className={`size-3.5 rounded-full border-2 ${here ? "border-action bg-action" : "border-line2"}`}
                    />
                    <b>{amountOf(amount.quantity)}</b>
                  </button>
                </td>
                <td className="num">{eachCost(format, unit)(amount.each)}</td>
                {amount.barred === "" ? (
                  <>
                    <td className="num">
                      {format.money(Number(amount.goods_cost) + Number(amount.delivery_cost))}
                    </td>
                    <td className="num">
                      {amount.lasts_until ? dayWords(amount.lasts_until) : "beyond"}
                    </td>
                    <td className="num">
                      {amount.yearly_cost === null ? "" : format.money(amount.yearly_cost)}
                    </td>
                  </>
                ) : (
                  <td colSpan={3} className="num text-small text-stop">
                    <Mark kind="stop" />{" "}
                    {amount.barred === "too_long"
                      ? "lasts longer than you buy for"
                      : `its slot takes ${amountOf(page.data?.room ?? 0)}`}
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      <form
        className="mt-3 flex items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim()) onQuantity(format.toStock(typed, unit));
          setTyped("");
        }}
      >
        <Field
          label={`Another amount, in ${line.pack_name || `packs of ${amountOf(line.pack)}`}`}
          unit={unit === "pieces" ? undefined : format.stockUnit(unit)}
          inputMode="decimal"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Button type="submit" disabled={typed.trim() === ""}>
          Set
        </Button>
      </form>
      {line.better ? (
        <p className="mt-2 text-small text-ink2">
          <Mark kind="mind" /> {amountOf(line.better.quantity)} would cost less a year; the budget
          has no room for them.
        </p>
      ) : null}
    </section>
  );
}
