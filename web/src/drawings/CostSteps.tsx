/** What each unit costs as the order grows: a column for each number, postage apart, a mark wherever the postage steps up. */
import { useWidth } from "./useWidth";

export interface UnitCost {
  units: number;
  each: string | null;
  total: string | null;
  postage: string;
  containers: string;
}

interface Props {
  costs: readonly UnitCost[];
  money: (amount: string | number) => string;
}

const LEAST = 420,
  MOST = 860,
  HIGH = 330,
  LEFT = 46,
  TOP = 22,
  FOOT = 62;

export function CostSteps({ costs, money }: Props) {
  const [box, wide] = useWidth<HTMLElement>(LEAST, MOST);
  const known = costs.filter((one) => one.each !== null);
  if (known.length === 0) return null;
  const most = Math.max(...known.map((one) => Number(one.each)));
  const step = (wide - LEFT) / costs.length;
  const y = (amount: number) => HIGH - FOOT - (amount / most) * (HIGH - FOOT - TOP);
  const changes = costs.map(
    (one, at) => one.each !== null && (at === 0 || costs[at - 1]?.postage !== one.postage),
  );
  return (
    <figure ref={box} className="m-0">
      <svg
        viewBox={`0 0 ${wide} ${HIGH}`}
        width={wide}
        className="block max-w-full"
        role="img"
        aria-label={`Cost of each: ${known.map((one) => `${one.units}: ${money(one.each ?? 0)} each, postage ${money(one.postage)} in all, ${one.containers}`).join("; ")}`}
      >
        <path d={`M${LEFT} ${HIGH - FOOT}H${wide}`} className="stroke-line2" />
        {costs.map((one, at) => {
          const left = LEFT + at * step + 3,
            column = step - 6;
          if (one.each === null)
            return (
              <text
                key={one.units}
                x={left + column / 2}
                y={HIGH - FOOT - 6}
                textAnchor="middle"
                className="fill-stop text-[12px]"
              >
                no
              </text>
            );
          const each = Number(one.each),
            post = Number(one.postage) / one.units;
          return (
            <g key={one.units}>
              <rect
                x={left}
                y={y(each)}
                width={column}
                height={y(post) - y(each)}
                className="fill-level"
              />
              <rect
                x={left}
                y={y(post)}
                width={column}
                height={HIGH - FOOT - y(post)}
                className="fill-action"
              />
              {costs.length <= 14 || at % 2 === 0 ? (
                <text
                  x={left + column / 2}
                  y={y(each) - 5}
                  textAnchor="middle"
                  className="fill-ink text-[12.5px] font-semibold"
                >
                  {money(one.each)}
                </text>
              ) : null}
            </g>
          );
        })}
        {costs.map((one, at) => (
          <text
            key={one.units}
            x={LEFT + (at + 0.5) * step}
            y={HIGH - FOOT + 17}
            textAnchor="middle"
            className="fill-ink text-[13px]"
          >
            {one.units}
          </text>
        ))}
        {costs.map((one, at) =>
          changes[at] ? (
            <g key={one.units}>
              <path
                d={`M${LEFT + at * step} ${HIGH - FOOT - 2}v30`}
                className="stroke-ink"
                strokeWidth="1.5"
              />
              <text x={LEFT + at * step + 4} y={HIGH - FOOT + 36} className="fill-ink2 text-[12px]">
                {money(one.postage)}
              </text>
            </g>
          ) : null,
        )}
      </svg>
      <figcaption className="flex flex-wrap gap-x-6 text-small text-ink2">
        <span>
          <span aria-hidden="true" className="mr-1.5 inline-block size-3 bg-action align-[-1px]" />
          postage of one
        </span>
        <span>
          <span aria-hidden="true" className="mr-1.5 inline-block size-3 bg-level align-[-1px]" />
          materials, minutes and expected damage cost of one
        </span>
        <span>strokes: the postage of the order steps to the amount written there</span>
      </figcaption>
    </figure>
  );
}
