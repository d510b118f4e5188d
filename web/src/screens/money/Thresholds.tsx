/** What it costs to charge nothing from a sum on, and how many buyers are just below it. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { percent } from "../../domain/figures";

/** So many sums stand in the table. */
const SHOWN = 7;

export function Thresholds({ data }: { data: Schemas["ChargesOut"] }) {
  const format = useFormat();
  const every = data.thresholds;
  if (every.length === 0) return null;
  const step = Math.max(1, Math.floor(every.length / SHOWN));
  const rows = every.filter((_, at) => at % step === step - 1).slice(-SHOWN);
  const most = Math.max(...rows.map((row) => Number(row.given_up)), 1);
  return (
    <section>
      <h2 className="text-lead">
        Free from a sum on, {format.money(data.break_even_fee ?? 0)} below
      </h2>
      <table className="rule-table mt-1">
        <thead>
          <tr>
            <th className="num">Free from</th>
            <th>Charges given up</th>
            <th className="num">Left</th>
            <th className="num">Just below</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.threshold}>
              <td className="num">{format.money(row.threshold)}</td>
              <td>
                <span className="flex items-center gap-2">
                  <span
                    aria-hidden="true"
                    className="h-3 bg-level"
                    style={{ width: `${(Number(row.given_up) / most) * 60}%` }}
                  />
                  {format.money(row.given_up)}
                </span>
              </td>
              <td className="num">{format.signed(row.left)}</td>
              <td className="num">{percent(row.just_below)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
