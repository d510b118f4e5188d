/** The shop's table: what to ask for by zone or product and number of units, rounded as the shop likes; as CSV. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { PickRow } from "../../ui/PickRow";
import { LinkButton } from "../../ui/parts";
import { sizeOf } from "./words";

const BY = [
  { value: "zone", text: "By zone" },
  { value: "product", text: "By product" },
] as const;

export function ShopTable({ data }: { data: Schemas["ChargesOut"] }) {
  const format = useFormat();
  const [by, setBy] = useState("zone");
  const rows = by === "zone" ? data.table : data.product_table;
  return (
    <section>
      <div className="flex items-end justify-between gap-3">
        <h2 className="text-lead">A table for the shop</h2>
        <LinkButton href={`/api/money/charges/table.csv?weeks=${data.weeks}&by=${by}`} download>
          Export CSV
        </LinkButton>
      </div>
      <PickRow label="Table by" value={by} options={BY} onPick={setBy} small />
      <table className="rule-table mt-1">
        <thead>
          <tr>
            <th>{by === "zone" ? "Zone" : "Product, alone"}</th>
            <th>Units</th>
            <th className="num">Ask for</th>
            <th className="num">It cost</th>
            <th className="num">at most</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at) => (
            <tr key={`${row.zone} ${row.units_from}`}>
              <td>
                {rows[at - 1]?.zone === row.zone ? (
                  <span className="sr-only">{row.zone}</span>
                ) : (
                  row.zone
                )}
              </td>
              <td>{sizeOf(row.units_from, row.units_to)}</td>
              <td className="num font-semibold">{format.money(row.charge)}</td>
              <td className="num">{format.money(row.mean_paid)}</td>
              <td className="num">{format.money(row.most_paid)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
