/** The cheapest way to send one, two, three ...: cost of each as a stair, a board-brown run for each container. */
import { useWidth } from "./useWidth";

interface SizeStep {
  units: number;
  container: string;
  each: string;
}
interface Props {
  sizes: readonly SizeStep[];
  money: (amount: string) => string;
  name: (code: string) => string;
}

const LEAST = 300,
  MOST = 520,
  HIGH = 192,
  LEFT = 40,
  FOOT = 56;

export function SizeSteps({ sizes, money, name }: Props) {
  const [box, wide] = useWidth<HTMLElement>(LEAST, MOST);
  if (sizes.length === 0) return null;
  const most = Math.max(...sizes.map((one) => Number(one.each)));
  const step = (wide - LEFT) / sizes.length;
  const x = (n: number) => LEFT + n * step;
  const y = (each: string) => 18 + (1 - Number(each) / most) * (HIGH - FOOT - 18);
  const runs: { container: string; from: number; to: number }[] = [];
  sizes.forEach((one, at) => {
    const last = runs.at(-1);
    if (last && last.container === one.container) last.to = at;
    else runs.push({ container: one.container, from: at, to: at });
  });
  const path = sizes
    .map((one, at) => `${at === 0 ? "M" : "L"}${x(at)} ${y(one.each)}H${x(at + 1)}`)
    .join("");
  return (
    <figure ref={box} className="m-0">
      <svg
        viewBox={`0 0 ${wide} ${HIGH}`}
        width={wide}
        className="block max-w-full"
        role="img"
        aria-label={`Cost of each as the order grows: ${runs.map((run) => `${sizes[run.from]?.units}${run.to > run.from ? ` to ${sizes[run.to]?.units}` : ""} in ${run.container}, from ${money(sizes[run.from]?.each ?? "0")} to ${money(sizes[run.to]?.each ?? "0")} each`).join("; ")}`}
      >
        <text x={LEFT - 6} y={HIGH - FOOT + 4} textAnchor="end" className="fill-ink2 text-[12px]">
          0
        </text>
        <path d={`M${LEFT} ${HIGH - FOOT}H${wide}`} className="stroke-line2" />
        {runs.map((run, nth) => (
          <g key={run.from}>
            <rect
              x={x(run.from) + 1}
              y={HIGH - FOOT + 6}
              width={x(run.to + 1) - x(run.from) - 2}
              height="15"
              className="fill-board stroke-board-edge"
            />
            <text
              x={(x(run.from) + x(run.to + 1)) / 2}
              y={HIGH - FOOT + 35 + (nth % 2) * 14}
              textAnchor="middle"
              className="fill-ink text-[12px]"
            >
              <title>{name(run.container)}</title>
              {run.container}
            </text>
            {run.from > 0 ? (
              <path
                d={`M${x(run.from)} 8V${HIGH - FOOT}`}
                className="stroke-line2"
                strokeDasharray="3 3"
              />
            ) : null}
          </g>
        ))}
        <path d={path} fill="none" className="stroke-ink" strokeWidth="2" />
        {sizes.map((one, at) => (
          <text
            key={one.units}
            x={(x(at) + x(at + 1)) / 2}
            y={HIGH - FOOT + 18}
            textAnchor="middle"
            className="fill-ink text-[11px]"
          >
            {one.units}
          </text>
        ))}
        {[0, sizes.length - 1].map((at) => {
          const one = sizes[at];
          return one ? (
            <text
              key={at}
              x={at === 0 ? x(0) + 4 : x(at + 1)}
              y={y(one.each) - 4}
              textAnchor={at === 0 ? "start" : "end"}
              className="fill-ink text-[12px] font-semibold"
            >
              {money(one.each)}
            </text>
          ) : null;
        })}
      </svg>
      <figcaption className="text-small text-ink2">
        Total cost each, for orders of 1 to {sizes.at(-1)?.units}; neighbours in the same container
        are one band.
      </figcaption>
    </figure>
  );
}
