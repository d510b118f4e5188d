/** Orders before and after a change: a line from what each cost to what it costs then; cheaper ones are dashed. */
import { apart } from "./scale";
import { useWidth } from "./useWidth";

export interface SlopeRow {
  id: number;
  number: string;
  goods: string;
  before: number;
  after: number;
  change: number;
  why: string;
}

interface Props {
  rows: readonly SlopeRow[];
  money: (amount: number) => string;
  signed: (amount: number) => string;
  onPick: (id: number) => void;
}

const ROW = 30;
const TOP = 14;

export function Slopes({ rows, money, signed, onPick }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(520, 1000);
  const [from, to] = [width * 0.4, width * 0.55];
  const high = Math.max(rows.length * ROW, 90);
  const all = rows.flatMap((row) => [row.before, row.after]);
  const [least, most] = [Math.min(...all), Math.max(...all)];
  const y = (value: number) => TOP + (1 - (value - least) / (most - least || 1)) * (high - 2 * TOP);
  const names = apart(
    rows.map((row) => y(row.before)),
    ROW - 4,
    TOP,
    high,
  );
  const ends = apart(
    rows.map((row) => y(row.after)),
    ROW - 4,
    TOP,
    high,
  );
  return (
    <div ref={box}>
      <svg
        width={width}
        height={high + 24}
        viewBox={`0 0 ${width} ${high + 24}`}
        className="block"
        role="img"
        aria-label={rows
          .map((row) => `${row.number}: ${money(row.before)} before, ${money(row.after)} after`)
          .join("; ")}
      >
        <line x1={from} x2={from} y1={2} y2={high + 16} stroke="var(--line2)" />
        <line x1={to} x2={to} y1={2} y2={high + 16} stroke="var(--line2)" />
        {rows.map((row, at) => {
          const [name, end] = [names[at] ?? 0, ends[at] ?? 0];
          const cheaper = row.change < 0;
          return (
            <g key={row.id} className="cursor-pointer" onClick={() => onPick(row.id)}>
              <text x={0} y={name + 4} className="fill-ink text-[13.5px]">
                <tspan className="font-semibold">{row.number}</tspan>{" "}
                <tspan className="fill-ink2">{cut(row.goods, (from - 130) / 7.2)}</tspan>
              </text>
              <text x={from - 24} y={name + 4} textAnchor="end" className="fill-ink text-[13.5px]">
                {money(row.before)}
              </text>
              <path
                d={`M${from - 20} ${name}L${from} ${y(row.before)}M${to} ${y(row.after)}L${to + 16} ${end}`}
                stroke="var(--line2)"
                fill="none"
              />
              <path
                d={`M${from} ${y(row.before)}L${to} ${y(row.after)}`}
                stroke={cheaper ? "var(--ink2)" : "var(--ink)"}
                strokeWidth="2"
                strokeDasharray={cheaper ? "5 4" : undefined}
              />
              {[
                [from, y(row.before)],
                [to, y(row.after)],
              ].map(([x = 0, h = 0]) => (
                <rect
                  key={x}
                  x={x - 4}
                  y={h - 4}
                  width="8"
                  height="8"
                  fill={cheaper ? "var(--sheet)" : "var(--ink)"}
                  stroke={cheaper ? "var(--ink2)" : "var(--ink)"}
                  strokeWidth="1.5"
                />
              ))}
              <text x={to + 20} y={end + 4} className="fill-ink text-[13.5px]">
                {money(row.after)}{" "}
                <tspan className="font-semibold" dx="6">
                  {signed(row.change)}
                </tspan>
                <tspan className="fill-ink2" dx="8">
                  {cut(row.why, (width - to - 150) / 7)}
                </tspan>
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** As much of a text as there is room for. */
function cut(text: string, most: number): string {
  return text.length <= most ? text : `${text.slice(0, Math.max(6, Math.floor(most) - 1))}…`;
}
