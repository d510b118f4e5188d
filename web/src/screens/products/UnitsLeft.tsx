/** What is left per unit when 1, 2, 3 ... of a product are ordered, at which price it turns, "2 for". */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { unitsLeft } from "../../api/money";
import { useFormat, useSession } from "../../app/session";
import { askAbout, numberTextIn } from "../../domain/numbers";
import { useRested } from "../../ui/useRested";
import { Field, ProblemNote } from "../../ui/parts";

/** So many order sizes stand in the table. */
const SHOWN = 8;

export function UnitsLeft({ productId }: { productId: number }) {
  return useSession().sees_costs ? <Left productId={productId} /> : null;
}

function Left({ productId }: { productId: number }) {
  const format = useFormat();
  const [typed, setTyped] = useState("");
  const query = useQuery(unitsLeft(productId, numberTextIn(useRested(typed, 300)) ?? ""));
  const data = query.data;
  if (data?.problem === "no_recipe" || data?.problem === "cannot_be_planned") return null;
  const rows = data?.rows.slice(0, SHOWN) ?? [];
  const bundle = rows.find((row) => row.bundle !== null);
  const loses = rows.find((row) => Number(row.left) < 0);
  return (
    <section className="mt-6" aria-label="Left per unit">
      <h3 className="border-b border-line2 pb-1 text-lead">
        {loses
          ? `${loses.units === 1 ? "One alone" : `${loses.units} together`} ${loses.units === 1 ? "loses" : "lose"} ${format.money(-Number(loses.left))}`
          : "What is left per unit"}
      </h3>
      <ProblemNote error={query.error} />
      <div className="flex items-end gap-4 py-2">
        <Field
          className="w-40"
          label="Sold for, a unit"
          inputMode="decimal"
          fault={askAbout(typed) || undefined}
          placeholder={data?.price ? format.money(data.price) : ""}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <p className="pb-2 text-small text-ink2">
          {data?.price_from === "sold" ? "It was sold for that last. " : ""}
          {data?.problem === "no_price" ? "It was not sold yet: say what a unit costs. " : ""}
          {data
            ? `Made for ${format.money(data.goods_cost)}; postage charged ${data.charged_by ? `by ${data.charged_by}` : "as on average"}`
            : ""}
        </p>
      </div>
      {rows.length > 0 ? (
        <table className="rule-table">
          <thead>
            <tr>
              <th className="num">Units</th>
              <th className="num">Left each</th>
              <th className="num">Left</th>
              <th className="num">One more costs</th>
              <th className="num">Turns at</th>
              <th className="num">Together for</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.units} className={Number(row.left) < 0 ? "bg-mind-soft" : ""}>
                <td className="num font-semibold">{row.units}</td>
                <td className="num">{format.signed(row.left_each)}</td>
                <td className="num">{format.signed(row.left)}</td>
                <td className="num">
                  {row.marginal_cost === null ? "–" : format.money(row.marginal_cost)}
                </td>
                <td className="num">{format.money(row.turns_at)}</td>
                <td className="num">{row.bundle === null ? "–" : format.money(row.bundle)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      <p className="mt-1 text-small text-ink2">
        Turns at: the price of a unit from which such an order leaves something.{" "}
        {bundle?.bundle
          ? `${bundle.units} for ${format.money(bundle.bundle)} gives the buyer half of what the last one leaves. `
          : ""}
        <Link className="text-action underline" to={`/fits?goods=${productId}x1`}>
          How many fit
        </Link>
      </p>
    </section>
  );
}
