/** What the hands do next: the one action of Space, and how far the parcel is drawn as done. No DOM. */
import type { Schemas } from "../../api/client";
import type { Bench } from "./useBench";

/** What Space does now: the one next action of the step, in words. */
export function nextAction(
  bench: Bench,
  settled: boolean,
  service: string | undefined,
  again: boolean,
): { words: string; run: () => void; off: boolean } {
  const { parcel: p, at, ticks } = bench;
  const step = p.steps[at];
  if (!step) return { words: "", run: () => undefined, off: true };
  if (step.kind === "weigh") {
    const good =
      !again && p.weight_check !== null && (p.weight_check.fine || p.weight_settled !== "");
    if (good) return { words: "Weighed: next", run: bench.next, off: false };
    if (p.weight_check !== null && !again)
      return { words: "Choose a reason", run: () => undefined, off: true };
    return { words: "Take this weight", run: () => bench.weigh(null), off: !settled || bench.busy };
  }
  if (step.kind === "label") {
    if (p.label?.state === "voiding")
      return { words: "Cancel label: ask again", run: bench.giveBack, off: bench.busy };
    if (needsAgreement(bench))
      return { words: "Agree, or buy another", run: () => undefined, off: true };
    if (p.label?.state === "bought")
      return { words: "Label bought: next", run: bench.next, off: false };
    return {
      words: p.label ? "Ask again" : "Buy the label",
      run: () => service && bench.buy(service),
      off: !service || bench.busy,
    };
  }
  if (at === p.steps.length - 1) {
    if (needsAgreement(bench))
      return { words: "See the label", run: () => bench.jump("label"), off: bench.busy };
    const open = bench.skipped.length;
    const words =
      open === 0 ? "Close the parcel" : `Close with ${open} ${open === 1 ? "step" : "steps"} open`;
    return { words, run: bench.close, off: bench.busy };
  }
  if (step.tick_units > 0 && ticks < step.tick_units)
    return { words: `${ticks + 1} of ${step.tick_units} done`, run: bench.next, off: false };
  return { words: "Done, next", run: bench.next, off: false };
}

/** The label was bought at another weight and nobody has agreed yet to what the carrier will charge. */
function needsAgreement({ parcel, agreed }: Bench): boolean {
  return Boolean(parcel.charge) && (parcel.charge?.asked ?? "") !== agreed;
}

/** The steps of the hands between where the packer is and the step of a kind that are not done yet. */
export function openSteps(
  steps: readonly Schemas["BenchStep"][],
  kind: Schemas["BenchStep"]["kind"],
  at: number,
  skipped: readonly number[],
): readonly number[] {
  const to = steps.findIndex((step) => step.kind === kind);
  return steps.flatMap((step, index) =>
    index >= at && index < to && !LATER.has(step.kind) && !skipped.includes(index) ? [index] : [],
  );
}

/** Steps the program itself keeps in order: nobody ticks them off unseen. */
const LATER: ReadonlySet<Schemas["BenchStep"]["kind"]> = new Set(["weigh", "label", "hand_over"]);

/** How many layers are in before this step. */
export function lastLayerBefore(steps: readonly Schemas["BenchStep"][], at: number): number {
  const done = steps
    .slice(0, at)
    .reduce((most, step) => (step.layer === null ? most : Math.max(most, step.layer + 1)), 0);
  return done;
}
