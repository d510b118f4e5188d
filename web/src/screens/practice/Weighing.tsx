/** The practice scale: what it shows against the plan, and what could explain it. What is named is put right. */
import { useFormat } from "../../app/session";
import { useActions } from "../../app/keys";
import { Button, Mark } from "../../ui/parts";
import type { Practice, Run } from "./usePractice";

export function Weighing({ run, bench }: { run: Run; bench: Practice }) {
  const format = useFormat();
  const { check } = bench;
  const { gross_mg, sigma_mg } = run.candidate.weight;
  const could = check && !check.fine ? check.explanations : [];
  useActions(
    could.map((one, index) => ({
      key: String(index + 1),
      label: `Look for it: ${one.slip.what}`,
      run: () => bench.weigh(one.slip.kind),
      off: bench.busy,
    })),
  );
  return (
    <div className="mt-6 max-w-3xl text-bench">
      <p>
        Expected {format.weight(gross_mg)} ± {format.weight(sigma_mg)}
        {check ? (
          <>
            , on the scale{" "}
            <output aria-label="Scale">
              <b>{format.weight(check.measured_mg)}</b>
            </output>
          </>
        ) : null}
      </p>
      {check ? (
        <p
          className={`mt-4 flex items-start gap-3 border-l-4 px-4 py-3 ${check.fine ? "border-ink bg-ground" : "border-stop bg-stop-soft"}`}
        >
          <Mark kind={check.fine ? "done" : "stop"} />
          <span>{check.message}</span>
        </p>
      ) : null}
      {could.length > 0 ? (
        <ul className="mt-3" aria-label="What could explain it">
          {could.map((one, index) => (
            <li
              key={one.slip.what}
              className="flex flex-wrap items-center gap-3 border-t border-line py-2"
            >
              <span className="grow first-letter:uppercase">{one.slip.what}</span>
              <Button
                className="min-h-11"
                hotkey={String(index + 1)}
                disabled={bench.busy}
                onClick={() => bench.weigh(one.slip.kind)}
              >
                Look for it
              </Button>
            </li>
          ))}
        </ul>
      ) : null}
    </div>
  );
}
