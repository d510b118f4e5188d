/** For each thing to take: what the plan wants, what is found in its place, and the way to say it is wrong. */
import { Button, Mark } from "../../ui/parts";
import type { Practice, Run } from "./usePractice";

export function OnTheTable({ run, at, bench }: { run: Run; at: number; bench: Practice }) {
  const takes = run.steps[at]?.takes ?? [];
  if (takes.length === 0) return null;
  const told = new Set(run.told.filter(([step]) => step === at).map(([, take]) => take));
  return (
    <table className="rule-table mt-5 max-w-4xl text-bench">
      <caption className="sr-only">What to take, and what is on the table</caption>
      <thead>
        <tr>
          <th>The plan says</th>
          <th>On the table</th>
          <th>
            <span className="sr-only">Wrong?</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {takes.map((take, index) => {
          const found = run.lying[at]?.[index];
          return (
            <tr key={take.code + index}>
              <td className="align-middle!">
                {take.name}, {take.amount}
              </td>
              <td className="align-middle!">
                {found?.name}, <b>{found?.amount}</b>
              </td>
              <td className="text-right">
                {told.has(index) ? (
                  <span className="text-lead text-ink2">
                    <Mark kind="done" /> Told
                  </span>
                ) : (
                  <Button
                    className="min-h-11"
                    hotkey={index < 9 ? String(index + 1) : undefined}
                    disabled={bench.busy}
                    onClick={() => bench.report(index)}
                  >
                    Wrong<span className="sr-only">: {take.name}</span>
                  </Button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
