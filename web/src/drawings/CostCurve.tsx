/** What so many kinds cost, as dots over their number; the chosen number stands out. Made for its width. */
import { niceTop } from "./scale";
import { useWidth } from "./useWidth";

interface Props {
  curve: readonly { kinds: number; total: number; left_over: number; proven: boolean }[];
  chosen: number;
  money: (amount: number) => string;
}

const LEFT = 16;
const HIGH = 150;

export function CostCurve({ curve, chosen, money }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(360, 1100);
  const whole = curve.filter((one) => one.left_over === 0);
  const list = whole.length > 1 ? whole : curve;
  const [first, last] = [list[0], list.at(-1)];
  if (!first || !last || list.length < 2) return <div ref={box} />;
  const high = Math.max(...list.map((one) => one.total));
  const low = Math.min(...list.map((one) => one.total));
  const span = niceTop(high - low || 1);
  const x = (kinds: number) =>
    LEFT + 30 + ((kinds - first.kinds) / (last.kinds - first.kinds)) * (width - LEFT - 90);
  const y = (total: number) => 34 + (1 - (total - low) / span) * (HIGH - 40);
  return (
    <div ref={box}>
      <svg
        width={width}
        height={HIGH + 40}
        viewBox={`0 0 ${width} ${HIGH + 40}`}
        className="block"
        role="img"
        aria-label={`Cost over the number of kinds. ${list.map((one) => `${one.kinds}: ${money(one.total)}`).join(", ")}`}
      >
        <path
          d={list.map((one, at) => `${at ? "L" : "M"}${x(one.kinds)} ${y(one.total)}`).join("")}
          fill="none"
          stroke="var(--line2)"
          strokeWidth="1.5"
        />
        {list.map((one, at) => {
          const here = one.kinds === chosen;
          const told = here || at === 0 || at === list.length - 1;
          return (
            <g key={one.kinds}>
              <circle
                cx={x(one.kinds)}
                cy={y(one.total)}
                r={here ? 6 : 3.5}
                fill={here ? "var(--action)" : one.proven ? "var(--ink)" : "var(--sheet)"}
                stroke={here ? "var(--action)" : "var(--ink2)"}
                strokeWidth="1.5"
              />
              {told ? (
                <text
                  x={x(one.kinds)}
                  y={y(one.total) - 12}
                  textAnchor="middle"
                  className={`text-[13px] ${here ? "fill-action font-semibold" : "fill-ink2"}`}
                >
                  {money(one.total)}
                </text>
              ) : null}
              <text
                x={x(one.kinds)}
                y={HIGH + 18}
                textAnchor="middle"
                className={`text-[13px] ${here ? "fill-action font-semibold" : "fill-ink2"}`}
              >
                {one.kinds}
              </text>
            </g>
          );
        })}
        <text x={x(first.kinds) - 26} y={HIGH + 36} className="fill-ink2 text-[12.5px]">
          kinds kept; the filled one is proven, the others were found by exchanging
        </text>
      </svg>
    </div>
  );
}
