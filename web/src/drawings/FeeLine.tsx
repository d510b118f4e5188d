/** What is left on postage over a flat fee: a straight line, where it breaks even, where it stands; pale bars are orders
 * by what they cost to post. Made for its width. */
import { niceTop, ticksTo } from "./scale";
import { useWidth } from "./useWidth";

interface Props {
  ends: readonly { fee: number; left: number }[];
  even: number;
  now: number;
  nowLeft: number;
  /** What each order cost to post. */
  costs: readonly number[];
  money: (amount: number) => string;
  signed: (amount: number) => string;
}

const LEFT = 60;
const HIGH = 190;
const TOP = 16;
const BARS = 24;

export function FeeLine({ ends, even, now, nowLeft, costs, money, signed }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(340, 760);
  const [first, last] = ends;
  if (!first || !last || last.fee <= first.fee) return <div ref={box} />;
  const reach = niceTop(Math.max(Math.abs(first.left), Math.abs(last.left), 1));
  const x = (fee: number) =>
    LEFT + ((fee - first.fee) / (last.fee - first.fee)) * (width - LEFT - 14);
  const y = (left: number) => TOP + (1 - (left + reach) / (2 * reach)) * HIGH;
  const counted = new Map<number, number>();
  for (const cost of costs) {
    const bin = Math.floor(((cost - first.fee) / (last.fee - first.fee)) * BARS);
    if (bin >= 0 && bin < BARS) counted.set(bin, (counted.get(bin) ?? 0) + 1);
  }
  const most = Math.max(1, ...counted.values());
  return (
    <div ref={box}>
      <svg
        width={width}
        height={TOP + HIGH + 30}
        viewBox={`0 0 ${width} ${TOP + HIGH + 30}`}
        className="block"
        role="img"
        aria-label={`Left on postage by flat fee: ${money(now)} on average now leaves ${signed(nowLeft)}; it breaks even at ${money(even)}.`}
      >
        {[...counted].map(([bin, count]) => {
          const high = (count / most) * 60;
          const at = first.fee + ((bin + 0.5) / BARS) * (last.fee - first.fee);
          return (
            <rect
              key={bin}
              x={x(at) - (width - LEFT) / BARS / 2 + 3}
              y={TOP + HIGH - high}
              width={(width - LEFT) / BARS - 6}
              height={high}
              fill="var(--level)"
            />
          );
        })}
        {[-reach, 0, reach].map((tick) => (
          <g key={tick}>
            <line
              x1={LEFT}
              x2={width - 14}
              y1={y(tick)}
              y2={y(tick)}
              stroke={tick === 0 ? "var(--ink)" : "var(--line)"}
            />
            <text x={LEFT - 8} y={y(tick) + 4} textAnchor="end" className="fill-ink2 text-[12.5px]">
              {tick > 0 ? `+${tick}` : tick}
            </text>
          </g>
        ))}
        <path
          d={`M${x(first.fee)} ${y(first.left)}L${x(last.fee)} ${y(last.left)}`}
          stroke="var(--ink)"
          strokeWidth="2"
        />
        <line
          x1={x(even)}
          x2={x(even)}
          y1={y(0)}
          y2={TOP + HIGH}
          stroke="var(--action)"
          strokeDasharray="2 3"
        />
        <rect
          x={x(even) - 5}
          y={y(0) - 5}
          width="10"
          height="10"
          fill="var(--sheet)"
          stroke="var(--action)"
          strokeWidth="2.5"
        />
        <text x={x(even) + 12} y={y(0) + 22} className="fill-action text-[13.5px] font-semibold">
          breaks even at {money(even)}
        </text>
        {now >= first.fee && now <= last.fee ? (
          <>
            <rect x={x(now) - 4.5} y={y(nowLeft) - 4.5} width="9" height="9" fill="var(--ink)" />
            <text
              x={x(now) - 8}
              y={y(nowLeft) - 14}
              textAnchor="end"
              className="fill-ink text-[13.5px] font-semibold"
            >
              today {money(now)}: {signed(nowLeft)}
            </text>
          </>
        ) : null}
        {ticksTo(last.fee)
          .filter((tick) => tick >= first.fee)
          .map((tick) => (
            <text
              key={tick}
              x={x(tick)}
              y={TOP + HIGH + 18}
              textAnchor="middle"
              className="fill-ink2 text-[12.5px]"
            >
              {money(tick)}
            </text>
          ))}
      </svg>
    </div>
  );
}
