/** Money asleep: stock that lasts longer than anything is bought for, and what would use it up. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { asleep } from "../../api/buying";
import { useFormat } from "../../app/session";
import { dayWords } from "../../domain/words";
import type { StockUnit } from "../../domain/units";
import { Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { CupboardTabs } from "../cupboard/Tabs";

export function AsleepScreen() {
  const query = useQuery(asleep());
  const format = useFormat();
  if (query.isPending) return <Waiting what="the money asleep" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const { rows, total, longest_weeks } = query.data;
  const most = Math.max(...rows.map((row) => Number(row.cost)), 0.01);
  const never = rows.filter((row) => row.never_used).length;
  return (
    <>
      <CupboardTabs />
      <ScreenHead
        title={
          rows.length === 0
            ? "No money is asleep"
            : `${format.money(total)} asleep in ${`${rows.length} supplies`}`
        }
        under={`What is left of each after ${longest_weeks} weeks${never > 0 ? `; ${never} of them never used` : ""}`}
      />
      <div className="border-t border-line bg-sheet px-6 py-4">
        {rows.length === 0 ? (
          <Empty title="Every supply is used within the longest cover" />
        ) : (
          <table className="rule-table">
            <thead>
              <tr>
                <th>Supply</th>
                <th>Left then</th>
                <th className="w-64">Worth</th>
                <th>Last used</th>
                <th>What would use it up</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.supply_id}>
                  <td>
                    <Link
                      className="font-semibold text-action hover:underline"
                      to={`/cupboard/${row.supply_id}`}
                    >
                      {row.code}
                    </Link>{" "}
                    {row.name}
                  </td>
                  <td>{format.quantity(row.quantity, row.unit as StockUnit)}</td>
                  <td>
                    <span className="flex items-center gap-2">
                      <span
                        aria-hidden="true"
                        className="inline-block h-3.5 bg-level"
                        style={{ width: `${(70 * Number(row.cost)) / most}%` }}
                      />
                      {format.money(row.cost)}
                    </span>
                  </td>
                  <td>{row.last_used === null ? "never" : dayWords(row.last_used)}</td>
                  <td className="text-small">
                    {row.recipes.length === 0
                      ? "no recipe: use it up in one, or sell it"
                      : row.named
                        ? "named by "
                        : "no recipe names it; these use others of its kind: "}
                    {row.recipes.map((recipe, at) => (
                      <span key={recipe.id}>
                        {at > 0 ? ", " : ""}
                        <Link className="text-action hover:underline" to={`/recipes/${recipe.id}`}>
                          {recipe.name}
                        </Link>
                      </span>
                    ))}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </>
  );
}
