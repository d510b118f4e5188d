/** The shop's table: what to ask for by zone and number of units, rounded as the shop likes; as CSV. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { sizeOf } from "./policyFields";
import { LinkButton } from "../../ui/parts";

export function ShopTable({ data }: { data: Schemas["ChargesOut"] }) {
  const format = useFormat();
  return (
    <section>
      <div className="flex items-end justify-between gap-3">
        <h2 className="text-lead">A table for the shop</h2>
        <LinkButton href={`/api/money/charges/table.csv?weeks=${data.weeks}`} download>
          Export CSV
        </LinkButton>
      </div>
      <table className="rule-table mt-1">
        <thead>
          <tr>
            <th>Zone</th>
            <th>Units</th>
            <th className="num">Ask for</th>
            <th className="num">It cost</th>
            <th className="num">at most</th>
          </tr>
        </thead>
        <tbody>
          {data.table.map((row) => (
            <tr key={`${row.zone} ${row.units_from}`}>
              <td>{row.zone}</td>
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
