/** Practice at the bench: the step, what the plan wants and what is found on the table. Nothing of it is real. */
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate, useParams } from "react-router";
import { practice } from "../../api/practice";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { parcelName } from "../../domain/words";
import { cartonAt } from "../../drawings/cartons";
import { Section } from "../../drawings/Section";
import { Button, ProblemNote, Waiting } from "../../ui/parts";
import { lastLayerBefore } from "../bench/next";
import { StepHead } from "../bench/StepHead";
import { OnTheTable } from "./OnTheTable";
import { Result } from "./Result";
import { usePractice, type Practice, type Run } from "./usePractice";
import { Weighing } from "./Weighing";

export function PracticeScreen() {
  const id = Number(useParams().runId);
  const found = useQuery(practice(id));
  if (found.isPending) return <Waiting what="the practice" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  const { result } = found.data;
  return result ? (
    <Result run={found.data} result={result} />
  ) : (
    <Packing key={id} run={found.data} />
  );
}

function Packing({ run }: { run: Run }) {
  const bench = usePractice(run);
  const navigate = useNavigate();
  const { at, begin } = bench;
  useEffect(() => {
    begin();
  }, [begin]);
  const step = run.steps[at];
  const last = at + 1 === run.steps.length;
  const weighs = step?.kind === "weigh" && bench.check === null;
  const words = weighs ? "Put it on the scale" : last ? "End the practice" : "Next";
  const forward = () => (weighs ? bench.weigh() : bench.next());
  useActions([
    { key: " ", label: words, run: forward, off: bench.busy },
    { key: "backspace", label: "One step back", run: bench.back, off: at === 0 },
    { key: "e", label: "End the practice now", run: bench.end, off: bench.busy },
    {
      key: "escape",
      label: "Leave; this step is kept",
      run: () => void navigate("/practice"),
    },
    ...(step?.takes ?? []).slice(0, 9).map((take, index) => ({
      key: String(index + 1),
      label: `Something is wrong with ${take.name}`,
      run: () => bench.report(index),
      off: bench.busy,
    })),
  ]);
  if (!step) return null;
  return (
    <div className="grid h-screen min-h-[640px] grid-rows-[auto_1fr_auto]">
      <Head run={run} at={at} onLeave={() => void navigate("/practice")} />
      <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_440px] max-lg:grid-cols-1">
        <main className="min-h-0 overflow-auto px-11 py-6 max-lg:px-7" aria-live="polite">
          <StepHead step={step} />
          <OnTheTable run={run} at={at} bench={bench} />
          {step.kind === "weigh" ? <Weighing run={run} bench={bench} /> : null}
          {step.kind === "label" ? (
            <p className="mt-5 text-bench text-ink2">No label is bought in practice: go on.</p>
          ) : null}
        </main>
        <Where run={run} at={at} />
      </div>
      <Foot bench={bench} words={words} onNext={forward} last={last} />
    </div>
  );
}

function Head({ run, at, onLeave }: { run: Run; at: number; onLeave: () => void }) {
  const format = useFormat();
  return (
    <header className="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-line bg-sheet px-7 py-3">
      <button type="button" className="keycap min-h-11" onClick={onLeave}>
        Esc
      </button>
      <h1 className="text-[21px]">Practice with order {run.number}</h1>
      <p className="text-lead text-ink2">{parcelName(run.candidate, format.length)}</p>
      <p className="border border-ink px-2 py-0.5 text-lead">Nothing of it is real</p>
      <p className="ml-auto text-lead text-ink2">
        step {at + 1} of {run.steps.length}
      </p>
    </header>
  );
}

function Where({ run, at }: { run: Run; at: number }) {
  const layer = run.steps[at]?.layer ?? -1;
  const done = layer >= 0 ? layer : lastLayerBefore(run.steps, at);
  const carton = cartonAt(run.candidate, run.layers, layer >= 0 ? layer : Math.max(0, done - 1));
  return (
    <aside
      className="overflow-auto border-l border-line bg-ground px-6 py-6 max-lg:hidden"
      aria-label="Where you are in the parcel"
    >
      <Section
        parcel={carton.drawn}
        layers={carton.layers}
        at={layer >= 0 ? carton.at : -1}
        done={run.layers.slice(0, done).filter((one) => carton.layers.includes(one)).length}
        caption={run.candidate.name}
      />
    </aside>
  );
}

function Foot({
  bench,
  words,
  onNext,
  last,
}: {
  bench: Practice;
  words: string;
  onNext: () => void;
  last: boolean;
}) {
  return (
    <footer className="flex flex-wrap items-center gap-5 bg-foot px-12 py-5 text-lead text-on-foot2 max-lg:px-7">
      <button type="button" className="min-h-11 hover:text-on-foot" onClick={bench.back}>
        <span className="keycap">Backspace</span> one step back
      </button>
      {last ? null : (
        <button type="button" className="min-h-11 hover:text-on-foot" onClick={bench.end}>
          <span className="keycap">E</span> end the practice now
        </button>
      )}
      <Button
        kind="next"
        hotkey="Space"
        className="ml-auto min-h-[70px] min-w-64 text-[22px]"
        disabled={bench.busy}
        onClick={onNext}
      >
        {words}
      </Button>
    </footer>
  );
}
