/** What it costs to charge nothing from a sum on, and how many buyers are just below it. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { thresholdCosting } from "../../api/money";
import { useFormat } from "../../app/session";
import { percent } from "../../domain/figures";
import { askAbout, numberTextIn } from "../../domain/numbers";
import { many } from "../../domain/words";
import { Field, ProblemNote } from "../../ui/parts";
import { useRested } from "../../ui/useRested";
import { docOf, emptyPolicy } from "./policyFields";

/** So many sums stand in the table. */
const SHOWN = 7;

export function Thresholds({ data }: { data: Schemas["ChargesOut"] }) {
  const format = useFormat();
  const every = data.thresholds;
  if (every.length === 0 || data.break_even_fee === null) return null;
  const step = Math.max(1, Math.floor(every.length / SHOWN));
  const rows = every.filter((_, at) => at % step === step - 1).slice(-SHOWN);
  const most = Math.max(...rows.map((row) => Number(row.given_up)), 1);
  return (
    <section>
      <h2 className="text-lead">Free from a sum on, {format.money(data.break_even_fee)} below</h2>
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
      <MayCost weeks={data.weeks} fee={data.break_even_fee} />
    </section>
  );
}

/** The other way round: it may cost so much, from which sum on is that? */
function MayCost({ weeks, fee }: { weeks: number; fee: string }) {
  const format = useFormat();
  const [typed, setTyped] = useState("");
  const may = numberTextIn(useRested(typed, 300));
  const found = useQuery(
    thresholdCosting(weeks, docOf(emptyPolicy(String(fee)), format.system), may),
  );
  return (
    <div className="mt-3 flex items-end gap-4">
      <Field
        className="w-44"
        label={`It may cost, in ${many(weeks, "week")}`}
        inputMode="decimal"
        fault={askAbout(typed) || undefined}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <p className="min-h-10 content-center" role="status">
        {may === null || !found.data ? (
          ""
        ) : found.data.free_from === null ? (
          "Even the largest order alone costs more"
        ) : (
          <>
            then free from <b>{format.money(found.data.free_from)}</b>
          </>
        )}
      </p>
      <ProblemNote error={may === null ? null : found.error} />
    </div>
  );
}
