/** Price steps: what each service asks as one measure grows; this parcel as an upright line; where another is cheapest. */
import { apart, niceTop, ticksTo } from "./scale";
import { useWidth } from "./useWidth";

export interface StairLine {
  key: string;
  name: string;
  steps: readonly { up_to: number; price: string | null }[];
  taken: boolean;
}

interface Props {
  lines: readonly StairLine[];
  best: string | undefined;
  low: number;
  high: number;
  value: number;
  shown: string; // the value in words
  crossings: readonly { above: number; key: string; words: string }[];
  tick: (value: number) => string;
  money: (amount: string | number) => string;
  label: string;
}

const LEAST = 420,
  MOST = 860,
  HIGH = 428,
  LEFT = 46,
  RIGHT = 176,
  TOP = 44,
  FOOT = 34;
/** Lines are told apart by their dashes as well as by their tone. */
const DASHES = ["", "9 5", "2 5", "12 4 2 4", "5 3", "16 6", "1 4"];

export function Stairs({
  lines,
  best,
  low,
  high,
  value,
  shown,
  crossings,
  tick,
  money,
  label,
}: Props) {
  const [box, wide] = useWidth<HTMLElement>(LEAST, MOST);
  const prices = lines.flatMap((line) =>
    line.steps.flatMap((step) => (step.price === null ? [] : [Number(step.price)])),
  );
  const top = niceTop(
    Math.min(
      Math.max(1, ...prices),
      4 *
        (Number(
          lines.find((line) => line.key === best)?.steps.find((step) => step.up_to >= value)?.price,
        ) || Infinity),
    ),
  );
  const x = (v: number) =>
    LEFT + ((Math.min(v, high) - low) / (high - low || 1)) * (wide - LEFT - RIGHT);
  const y = (price: number) => HIGH - FOOT - (Math.min(price, top) / top) * (HIGH - FOOT - TOP);
  const drawn = lines
    .map((line, index) => ({
      ...line,
      dash: line.key === best ? "" : (DASHES[(index % (DASHES.length - 1)) + 1] ?? ""),
      ...pathOf(line, low, x, y, top),
    }))
    .filter((line) => line.path !== "");
  const labels = apart(
    drawn.map((line) => line.end),
    16,
    TOP - 6,
    HIGH - FOOT,
  );
  const at = Math.min(Math.max(x(value), LEFT + 60), wide - RIGHT - 60);
  return (
    <figure ref={box} className="m-0">
      <svg
        viewBox={`0 0 ${wide} ${HIGH}`}
        width={wide}
        className="block max-w-full"
        role="img"
        aria-label={`${label} ${drawn.map((line) => spoken(line, tick, money)).join(". ")}`}
      >
        <Axes wide={wide} top={top} low={low} high={high} x={x} y={y} tick={tick} />
        {drawn.map((line, index) => (
          <Line
            key={line.key}
            line={line}
            best={line.key === best}
            label={labels[index] ?? 0}
            wide={wide}
          />
        ))}
        <path
          d={`M${x(value)} ${TOP - 12}V${HIGH - FOOT}`}
          className="stroke-ink"
          strokeWidth="1.6"
        />
        <text x={at} y={TOP - 20} textAnchor="middle" className="fill-ink text-[15px] font-bold">
          this parcel, {shown}
        </text>
        {drawn
          .filter((line) => line.taken)
          .map((line) => {
            const price = line.steps.find((step) => value <= step.up_to)?.price;
            return price ? (
              <rect
                key={line.key}
                x={x(value) - 4}
                y={y(Number(price)) - 4}
                width="8"
                height="8"
                className={line.key === best ? "fill-action" : "fill-sheet stroke-ink"}
              />
            ) : null;
          })}
        {crossings.map((one) => (
          <path
            key={one.above}
            d={`M${x(one.above)} ${HIGH - FOOT}v7`}
            className="stroke-action"
            strokeWidth="2.5"
          />
        ))}
      </svg>
      {crossings.length > 0 ? (
        <figcaption className="px-1 text-small text-ink2">
          <b className="text-ink">Where another is the cheapest:</b>{" "}
          {crossings.map((one) => one.words).join("; ")}.
        </figcaption>
      ) : null}
    </figure>
  );
}

type Scale = (value: number) => number;

interface Drawn extends StairLine {
  path: string;
  dash: string;
  end: number;
  endX: number;
}

/** What a line says to those who hear it. */
function spoken(line: StairLine, tick: Props["tick"], money: Props["money"]): string {
  const steps = line.steps.filter((step) => step.price !== null).slice(0, 8);
  const words = steps.map((step) => `up to ${tick(step.up_to)} ${money(step.price ?? "0")}`);
  return `${line.name}: ${words.join(", ")}`;
}

function Axes({
  wide,
  top,
  low,
  high,
  x,
  y,
  tick,
}: {
  wide: number;
  top: number;
  low: number;
  high: number;
  x: Scale;
  y: Scale;
  tick: Props["tick"];
}) {
  return (
    <>
      {ticksTo(top).map((price) => (
        <g key={price}>
          <path d={`M${LEFT} ${y(price)}H${wide - RIGHT}`} className="stroke-line" />
          <text x={LEFT - 8} y={y(price) + 4} textAnchor="end" className="fill-ink2 text-[13px]">
            {price}
          </text>
        </g>
      ))}
      {ticksTo(high).map((v) => (
        <text
          key={v}
          x={x(Math.max(v, low))}
          y={HIGH - FOOT + 22}
          textAnchor="middle"
          className="fill-ink2 text-[13px]"
        >
          {tick(v)}
        </text>
      ))}
    </>
  );
}

function Line({
  line,
  best,
  label,
  wide,
}: {
  line: Drawn;
  best: boolean;
  label: number;
  wide: number;
}) {
  // A line that ends early is named where it ends: nothing leads from there to the margin.
  const early = line.endX < wide - RIGHT - 12;
  return (
    <g>
      <path
        d={line.path}
        fill="none"
        strokeWidth={best ? 3.5 : 1.8}
        strokeDasharray={line.dash}
        className={best ? "stroke-action" : line.taken ? "stroke-ink" : "stroke-line2"}
      />
      {early ? (
        <text
          x={line.endX + 4}
          y={line.end + 15}
          className={`text-[12.5px] ${line.taken ? "fill-ink" : "fill-ink2"}`}
        >
          {line.name}
        </text>
      ) : null}
      {!early && Math.abs(label - line.end) > 3 ? (
        <path
          d={`M${wide - RIGHT} ${line.end}L${wide - RIGHT + 7} ${label}`}
          className="stroke-line2"
        />
      ) : null}
      {early ? null : (
        <text
          x={wide - RIGHT + 9}
          y={label + 4}
          className={`text-[12.5px] ${best ? "fill-action font-bold" : line.taken ? "fill-ink" : "fill-ink2"}`}
        >
          {line.name.length > 26 ? `${line.name.slice(0, 25)}…` : line.name}
        </text>
      )}
    </g>
  );
}

/** The line as a path, broken where the service does not take it, and the height of its last drawn step. */
function pathOf(
  line: StairLine,
  low: number,
  x: (v: number) => number,
  y: (p: number) => number,
  top: number,
): { path: string; end: number; endX: number } {
  let path = "",
    from = low,
    pen = false,
    end = 0,
    endX = 0;
  for (const step of line.steps) {
    const price = step.price === null ? null : Number(step.price);
    if (price === null || price > top) pen = false;
    else {
      path += `${pen ? "L" : "M"}${x(from)} ${y(price)}H${x(step.up_to)}`;
      pen = true;
      end = y(price);
      endX = x(step.up_to);
    }
    from = step.up_to;
  }
  return { path, end, endX };
}
