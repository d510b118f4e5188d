/** Price steps: what each service asks as one measure grows; this parcel as an upright line; where another is cheapest. */
import { apart, niceTop, ticksTo } from "./scale";

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

const WIDE = 860,
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
    LEFT + ((Math.min(v, high) - low) / (high - low || 1)) * (WIDE - LEFT - RIGHT);
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
  // A line that ends early is named where it ends: nothing leads from there to the margin.
  const early = (line: { endX: number }) => line.endX < WIDE - RIGHT - 12;
  const at = Math.min(Math.max(x(value), LEFT + 60), WIDE - RIGHT - 60);
  return (
    <figure className="m-0">
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        className="block w-full"
        role="img"
        aria-label={`${label} ${drawn
          .map(
            (line) =>
              `${line.name}: ${line.steps
                .filter((step) => step.price !== null)
                .slice(0, 8)
                .map((step) => `up to ${tick(step.up_to)} ${money(step.price ?? "0")}`)
                .join(", ")}`,
          )
          .join(". ")}`}
      >
        {ticksTo(top).map((price) => (
          <g key={price}>
            <path d={`M${LEFT} ${y(price)}H${WIDE - RIGHT}`} className="stroke-line" />
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
        {drawn.map((line, index) => (
          <g key={line.key}>
            <path
              d={line.path}
              fill="none"
              strokeWidth={line.key === best ? 3.5 : 1.8}
              strokeDasharray={line.dash}
              className={
                line.key === best ? "stroke-action" : line.taken ? "stroke-ink" : "stroke-line2"
              }
            />
            {early(line) ? (
              <text
                x={line.endX + 4}
                y={line.end + 15}
                className={`text-[12.5px] ${line.taken ? "fill-ink" : "fill-ink2"}`}
              >
                {line.name}
              </text>
            ) : null}
            {!early(line) && Math.abs((labels[index] ?? 0) - line.end) > 3 ? (
              <path
                d={`M${WIDE - RIGHT} ${line.end}L${WIDE - RIGHT + 7} ${labels[index]}`}
                className="stroke-line2"
              />
            ) : null}
            {early(line) ? null : (
              <text
                x={WIDE - RIGHT + 9}
                y={(labels[index] ?? 0) + 4}
                className={`text-[12.5px] ${line.key === best ? "fill-action font-bold" : line.taken ? "fill-ink" : "fill-ink2"}`}
              >
                {line.name.length > 26 ? `${line.name.slice(0, 25)}…` : line.name}
              </text>
            )}
          </g>
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
