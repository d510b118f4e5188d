/** The dark foot: the scale's figure and the one next key, readable from a metre. */
import { useFormat } from "../../app/session";
import type { Target } from "./JumpSheet";
import type { Bench } from "./useBench";
import type { Scale } from "./useScale";

const WORDS: Record<Scale["state"], string> = {
  waiting: "nothing on the scale",
  empty: "nothing on the scale",
  settling: "settling",
  settled: "settled",
  over_capacity: "too heavy for this scale",
  too_light: "too light for this scale",
  absent: "no answer: check the cable, or type it in",
};

interface Props {
  bench: Bench;
  scale: Scale;
  weighing: boolean;
  next: { words: string; run: () => void; off: boolean };
  onHold: () => void;
  onJump: (to: Target) => void;
}

export function Foot({ bench, scale, weighing, next, onHold, onJump }: Props) {
  const format = useFormat();
  const { parcel: p } = bench;
  const live = weighing && scale.state !== "waiting";
  const shown = live ? scale.readingMg : p.measured_mg;
  const [figure, unit] = shown === null ? ["–", ""] : format.weight(shown).split(/ (?=[a-z]+$)/);
  return (
    <footer className="flex items-center gap-10 bg-foot px-12 py-5 text-on-foot max-lg:gap-6 max-lg:px-7">
      <div className="min-w-52">
        <p className="flex items-baseline gap-3">
          <output className="font-head text-[44px] font-semibold leading-none" aria-label="Scale">
            {figure}
          </output>
          <span className="text-lead text-on-foot2">
            {unit}{" "}
            {live
              ? WORDS[scale.state]
              : p.measured_mg
                ? p.weighed_by_hand
                  ? "typed in"
                  : "weighed"
                : WORDS.waiting}
          </span>
        </p>
        <p className="mt-1.5 text-lead text-on-foot2">
          expected {format.weight(p.candidate.weight.gross_mg)}
        </p>
      </div>
      <div className="flex grow flex-wrap gap-x-5 gap-y-1 text-lead text-on-foot2">
        <button type="button" className="min-h-11 hover:text-on-foot" onClick={bench.back}>
          <span className="keycap">Backspace</span> one step back
        </button>
        <button
          type="button"
          className="min-h-11 hover:text-on-foot"
          onClick={() => onJump("weigh")}
        >
          <span className="keycap">W</span> weigh
        </button>
        <button
          type="button"
          className="min-h-11 hover:text-on-foot"
          onClick={() => onJump("label")}
        >
          <span className="keycap">L</span> label
        </button>
        <button type="button" className="min-h-11 hover:text-on-foot" onClick={onHold}>
          <span className="keycap">H</span> hold
        </button>
      </div>
      <button
        type="button"
        disabled={next.off}
        onClick={next.run}
        className="flex min-h-[78px] min-w-72 items-center justify-between gap-6 rounded-part bg-on-foot px-6 font-head text-[25px] font-semibold text-foot disabled:opacity-40 max-lg:min-w-64 max-lg:justify-center"
      >
        {next.words} <span className="keycap font-text text-lead max-lg:hidden">Space</span>
      </button>
    </footer>
  );
}
