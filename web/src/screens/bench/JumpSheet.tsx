/** Going to the scale or the label past steps that are not done: which are? The rest stay open and are named at the end. */
import { useEffect, useRef, useState } from "react";
import { STEP_WORDS } from "../../domain/words";
import { Sheet } from "../../ui/Sheet";
import { Button } from "../../ui/parts";
import type { Bench } from "./useBench";

export type Target = "weigh" | "label";

interface Props {
  bench: Bench;
  to: Target | null;
  onClose: () => void;
}

const PLACES: Record<Target, string> = { weigh: "the scale", label: "the label" };

export function JumpSheet({ bench, to, onClose }: Props) {
  const open = to === null ? [] : bench.openBefore(to);
  return (
    <Sheet
      open={to !== null && open.length > 0}
      onOpenChange={(now) => !now && onClose()}
      title={`Before ${to === null ? "" : PLACES[to]}: which of these are done?`}
      description="Steps you leave open stay open, and are named before the parcel is closed."
      wide
    >
      {to === null ? null : <Open bench={bench} to={to} open={open} onClose={onClose} />}
    </Sheet>
  );
}

function Open({ bench, to, open, onClose }: Props & { to: Target; open: readonly number[] }) {
  const [done, setDone] = useState<readonly number[]>([]);
  const go = (left: readonly number[]) => {
    bench.jump(to, left);
    onClose();
  };
  const all = useRef(() => go([]));
  useEffect(() => {
    all.current = () => go([]);
  });
  useEffect(() => {
    // The keys of the screen rest while a sheet is open; this one is the sheet's own.
    const listen = (event: KeyboardEvent) => {
      if (event.key === "a" && !event.ctrlKey && !event.metaKey && !event.altKey) all.current();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
  return (
    <form
      className="flex flex-col gap-3 text-bench"
      onSubmit={(event) => {
        event.preventDefault();
        go(open.filter((step) => !done.includes(step)));
      }}
    >
      {open.map((index) => {
        const step = bench.parcel.steps[index];
        return step ? (
          <label key={index} className="flex min-h-11 items-center gap-3 border-t border-line">
            <input
              type="checkbox"
              className="size-6 shrink-0 accent-action"
              checked={done.includes(index)}
              onChange={() =>
                setDone(
                  done.includes(index) ? done.filter((one) => one !== index) : [...done, index],
                )
              }
            />
            <span className="text-ink2">{STEP_WORDS[step.kind]}</span> {step.title}
          </label>
        ) : null;
      })}
      <div className="sticky -bottom-6 flex flex-wrap gap-3 border-t border-line bg-sheet py-3">
        <Button kind="next" className="min-h-11" hotkey="A" onClick={() => go([])}>
          All are done
        </Button>
        <Button type="submit" className="min-h-11" hotkey="Enter">
          Leave the others open
        </Button>
        <Button className="min-h-11" onClick={onClose}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
