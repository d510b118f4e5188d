/** A scale with the price steps as ticks, this parcel as a marker with its uncertainty, and the next cheaper step in words. */
import { useWidth } from "./useWidth";

export interface RulerStep {
  upTo: number;
  price: string;
}

interface Props {
  label: string;
  words: string;
  mind?: boolean;
  value: number;
  shown: string; // the value in words
  low: number; // band of uncertainty
  high: number;
  steps: readonly RulerStep[];
  from?: number; // where the scale begins when the steps do not begin at nought
  tick: (upTo: number) => string;
}

const LEAST = 240;
const MOST = 420;

/** Two steps below and two above are enough to decide by; the rest would only crowd the scale. */
export function windowOf(
  steps: readonly RulerStep[],
  value: number,
): { from: number; shown: RulerStep[] } {
  const at = steps.findIndex((step) => value <= step.upTo);
  const here = at === -1 ? steps.length - 1 : at;
  const first = Math.max(0, here - 1);
  return { from: steps[first - 1]?.upTo ?? 0, shown: steps.slice(first, here + 2) };
}

export function Ruler({
  label,
  words,
  mind = false,
  value,
  shown,
  low,
  high,
  steps,
  from: begins,
  tick,
}: Props) {
  const [box, wide] = useWidth<HTMLElement>(LEAST, MOST);
  const { from: before, shown: near } = windowOf(steps, value);
  const from = before === 0 ? (begins ?? 0) : before;
  const last = near[near.length - 1]?.upTo ?? value;
  const end = Math.max(last, value * 1.02);
  const x = (v: number) =>
    6 + ((Math.min(Math.max(v, from), end) - from) / (end - from || 1)) * (wide - 12);
  const here = near.find((step) => value <= step.upTo);
  const half = Math.max(30, shown.length * 4.2); // of the words at this size
  const at = Math.min(Math.max(x(value), half), wide - half);
  return (
    <figure ref={box}>
      <figcaption className="text-small">
        <span className="text-ink2">{label}: </span>
        <b className={mind ? "text-mind" : ""}>{words}</b>
      </figcaption>
      <svg
        viewBox={`0 0 ${wide} 74`}
        width={wide}
        className="mt-1 block max-w-full"
        role="img"
        aria-label={`${label} ${shown}. ${near.map((step) => `up to ${tick(step.upTo)}: ${step.price}`).join(", ")}. ${words}`}
      >
        <text x={at} y="15" textAnchor="middle" fontWeight="700" fontSize="15" fill="var(--ink)">
          {shown}
        </text>
        <path d={`M${x(value) - 5} 20h10l-5 8z`} fill="var(--ink)" />
        {near.map((step, index) => {
          const left = index === 0 ? x(from) : x(near[index - 1]?.upTo ?? from);
          const right = x(step.upTo);
          const mine = step === here;
          return (
            <g key={step.upTo}>
              <rect
                x={left}
                y="29"
                width={Math.max(0, right - left - 1)}
                height="9"
                fill={mine ? "var(--action)" : "var(--line)"}
              />
              {right - left > 34 ? (
                <text
                  x={(left + right) / 2}
                  y="53"
                  textAnchor="middle"
                  fontSize="14"
                  fontWeight={mine ? 700 : 400}
                  fill={mine ? "var(--action)" : "var(--ink2)"}
                >
                  {step.price}
                </text>
              ) : null}
              <path d={`M${right} 26v15`} stroke="var(--ink)" strokeWidth="1.5" />
              <text
                x={Math.min(right, wide - 2)}
                y="70"
                textAnchor={right > wide - 30 ? "end" : "middle"}
                fontSize="12.5"
                fill="var(--ink2)"
              >
                {tick(step.upTo)}
              </text>
            </g>
          );
        })}
        <rect
          x={x(low)}
          y="29"
          width={Math.max(2, x(high) - x(low))}
          height="9"
          fill="var(--ink)"
          fillOpacity=".55"
        />
      </svg>
    </figure>
  );
}
