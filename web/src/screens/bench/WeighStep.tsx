/** Weighing: the scale against the plan; a difference is explained, the packer decides. */
import { useState } from "react";
import { useFormat } from "../../app/session";
import { useActions } from "../../app/keys";
import { percent } from "../../domain/figures";
import { Ruler } from "../../drawings/Ruler";
import { Button, Mark } from "../../ui/parts";
import { MeasureOutside } from "./MeasureOutside";
import type { Bench } from "./useBench";
import type { Scale } from "./useScale";

interface Props {
  bench: Bench;
  scale: Scale;
  again: boolean;
  onAgain: () => void;
}

/** A chance as people say it: nothing is certain because of a weight. */
const likely = (chance: number) =>
  chance >= 0.99 ? "over 99 %" : chance < 0.01 ? "under 1 %" : percent(chance);

export function WeighStep({ bench, scale, again, onAgain }: Props) {
  const format = useFormat();
  const { parcel: p } = bench;
  const [typing, setTyping] = useState(false);
  const fixed = p.label !== null;
  const check = again ? null : p.weight_check;
  const { quote, weight } = p.candidate;
  const unit = format.weightUnit(weight.gross_mg);
  useActions([
    { key: "t", label: "Type the weight", run: () => setTyping(true) },
    { key: "g", label: "Weigh again", run: onAgain, off: !check || fixed },
    {
      key: "y",
      label: "Checked: correct",
      run: () => bench.settle("checked: correct"),
      off: !check || check.fine || p.weight_settled !== "",
    },
  ]);
  const at = (again ? null : p.measured_mg) ?? scale.readingMg ?? weight.gross_mg;
  return (
    <div className="mt-6 max-w-3xl text-bench">
      <div className="max-w-xl">
        <Ruler
          label="Expected"
          words={`${format.weight(weight.gross_mg)} ± ${format.weight(weight.sigma_mg)}`}
          value={at}
          shown={format.weight(at)}
          low={weight.gross_mg - 2 * weight.sigma_mg}
          high={weight.gross_mg + 2 * weight.sigma_mg}
          steps={quote.steps.map((one) => ({ upTo: one.up_to_mg, price: format.money(one.price) }))}
          tick={(mg) => format.weight(mg).replace(".000 kg", " kg")}
        />
      </div>
      {check ? <Verdict bench={bench} check={check} fixed={fixed} onAgain={onAgain} /> : null}
      <TypedWeight bench={bench} unit={unit} open={typing} onOpen={setTyping} />
      <MeasureOutside parcel={p} />
    </div>
  );
}

type Check = NonNullable<Bench["parcel"]["weight_check"]>;

function Verdict({
  bench,
  check,
  fixed,
  onAgain,
}: {
  bench: Bench;
  check: Check;
  fixed: boolean;
  onAgain: () => void;
}) {
  const { parcel: p } = bench;
  return (
    <div className="mt-4">
      <p
        className={`flex items-start gap-3 border-l-4 px-4 py-3 ${check.fine ? "border-ink bg-ground" : "border-stop bg-stop-soft"}`}
      >
        <Mark kind={check.fine ? "done" : "stop"} />
        <span>
          {check.message}
          {p.weighed_by_hand ? " (typed in)" : ""}
        </span>
      </p>
      {!check.fine && p.weight_settled ? (
        <p className="mt-2 text-lead text-ink2">Accepted by {p.weight_settled}.</p>
      ) : null}
      {!check.fine && !p.weight_settled ? <Explanations bench={bench} check={check} /> : null}
      {fixed ? null : (
        <button
          type="button"
          className="mt-3 min-h-11 text-lead text-action underline"
          disabled={bench.busy}
          onClick={onAgain}
        >
          Fixed: weigh again <span className="keycap">G</span>
        </button>
      )}
    </div>
  );
}

/** What could be wrong, the likeliest first; the packer decides. */
function Explanations({ bench, check }: { bench: Bench; check: Check }) {
  const format = useFormat();
  const accept = (one: Check["explanations"][number]) => bench.settle(`${one.slip.what}; accepted`);
  useActions(
    check.explanations.map((one, index) => ({
      key: String(index + 1),
      label: `Accept: ${one.slip.what}`,
      run: () => accept(one),
      off: bench.busy || index > 8,
    })),
  );
  return (
    <ul className="mt-3">
      {check.explanations.map((one, index) => (
        <li
          key={one.slip.what}
          className="flex flex-wrap items-center gap-3 border-t border-line py-2"
        >
          <span className="inline-block grow first-letter:uppercase">
            {one.slip.what}
            <span className="ml-3 text-lead text-ink2">
              {likely(Number(one.chance))} likely, leaves {format.weight(one.left_over_mg)}{" "}
              unexplained
            </span>
          </span>
          <Button
            className="min-h-11"
            hotkey={index < 9 ? String(index + 1) : undefined}
            disabled={bench.busy}
            onClick={() => accept(one)}
          >
            Accept this
          </Button>
        </li>
      ))}
      <li className="flex flex-wrap items-center gap-3 border-t border-line py-2">
        <span className="grow">Checked: correct</span>
        <Button
          className="min-h-11"
          hotkey="Y"
          disabled={bench.busy}
          onClick={() => bench.settle("checked: correct")}
        >
          Accept with a note
        </Button>
      </li>
    </ul>
  );
}

function TypedWeight({
  bench,
  unit,
  open,
  onOpen,
}: {
  bench: Bench;
  unit: "g" | "kg" | "oz" | "lb";
  open: boolean;
  onOpen: (open: boolean) => void;
}) {
  const format = useFormat();
  const [typed, setTyped] = useState("");
  if (!open)
    return (
      <button
        type="button"
        className="mt-4 min-h-11 text-lead text-action underline"
        onClick={() => onOpen(true)}
      >
        Type the weight <span className="keycap">T</span>
      </button>
    );
  return (
    <form
      className="mt-4 flex items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        // What was typed stays until the weight is taken: a refusal loses nothing.
        bench.weigh(typed, unit, () => onOpen(false));
      }}
    >
      <div>
        <label className="block text-small text-ink2" htmlFor="typed">
          Weight in {unit}, or with its unit: {format.imperial ? "2 lb 3 oz" : "1240 g"}
        </label>
        <input
          id="typed"
          autoFocus
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="mt-1 min-h-12 w-56 rounded-part border border-line2 bg-sheet px-4"
        />
      </div>
      <Button type="submit" className="min-h-12" disabled={!typed.trim()}>
        Use this weight
      </Button>
    </form>
  );
}
