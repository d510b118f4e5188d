/** What each order left, by its size: a square an order, a lozenge a loss, a bar the middle order. Made for its width. */
import { stacked } from "./dots";
import { niceTop, ticksTo } from "./scale";
import { useWidth } from "./useWidth";

export interface LeftOrder {
  id: number;
  number: string;
  units: number;
  left: number;
  charged_later: boolean;
}

interface Group {
  name: string;
  orders: number;
  left: number;
  median: number;
  holds: (units: number) => boolean;
}

interface Props {
  orders: readonly LeftOrder[];
  groups: readonly Group[];
  picked: number | null;
  onPick: (id: number) => void;
  money: (amount: number) => string;
}

const LEFT = 52;
const TOP = 56;
const FOOT = 40;
const MOST_HIGH = 250;
/** Room for the middle order's bar and amount, px. */
const MIDDLE = 62;

export function LeftDots({ orders, groups, picked, onPick, money }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(420, 1100);
  if (orders.length === 0) return <div ref={box} />;
  const ticksUp = ticksTo(niceTop(Math.max(1, ...orders.map((one) => one.left))));
  const tickStep = ticksUp[1] ?? 1;
  const top = (ticksUp.at(-1) ?? 1) + tickStep / 2;
  // Losses are few and small: half steps, as far as they reach.
  const least = Math.min(0, ...orders.map((one) => one.left));
  const bottom = -(tickStep / 2) * Math.ceil((-least / tickStep) * 2);
  const low = Math.floor(-bottom / tickStep);
  const column = (width - LEFT) / groups.length;
  // The largest squares with which the widest row and its middle's label stay within the group's column.
  const wide = (side: number) => {
    const height = (top - bottom) / Math.floor(MOST_HIGH / (side + 1.5));
    const rows = groups.flatMap((group) =>
      stacked(
        orders.filter((one) => group.holds(one.units)),
        (one) => one.left,
        height,
      ).map((one) => 2 * one.across + 1),
    );
    return Math.max(1, ...rows) * (side + 1.5);
  };
  const side = [9, 8, 7, 6, 5, 4].find((one) => wide(one) <= column - MIDDLE) ?? 3;
  const step = side + 1.5;
  const height = (top - bottom) / Math.floor(MOST_HIGH / step);
  const y = (value: number) => TOP + ((top - value) / (top - bottom)) * MOST_HIGH;
  const ticks = [...Array.from({ length: low }, (_, n) => -(low - n) * tickStep), ...ticksUp];
  return (
    <div ref={box}>
      <svg
        width={width}
        height={TOP + MOST_HIGH + FOOT}
        viewBox={`0 0 ${width} ${TOP + MOST_HIGH + FOOT}`}
        className="block"
        role="img"
        aria-label={`What each order left, by its size. ${groups.map((group) => `${group.name}: ${group.orders} orders, ${money(group.left)} together, the middle one ${money(group.median)}`).join("; ")}`}
      >
        {ticks.map((tick) => (
          <g key={tick}>
            <line
              x1={LEFT}
              x2={width}
              y1={y(tick)}
              y2={y(tick)}
              stroke={tick === 0 ? "var(--ink)" : "var(--line)"}
              strokeWidth={tick === 0 ? 1.6 : 1}
            />
            <text x={LEFT - 8} y={y(tick) + 4} textAnchor="end" className="fill-ink2 text-[12.5px]">
              {tick > 0 ? `+${tick}` : tick}
            </text>
          </g>
        ))}
        {groups.map((group, at) => {
          const x = LEFT + column * at + (column - MIDDLE) / 2;
          const dots = stacked(
            orders.filter((one) => group.holds(one.units)),
            (one) => one.left,
            height,
          );
          const beside = x + step * (Math.max(...dots.map((one) => one.across)) + 1);
          return (
            <g key={group.name}>
              <text x={x} y={18} textAnchor="middle" className="fill-ink text-[14px] font-semibold">
                {group.name}
              </text>
              <text x={x} y={36} textAnchor="middle" className="fill-ink2 text-[13px]">
                {group.orders} {group.orders === 1 ? "order" : "orders"}
              </text>
              {dots.map(({ item, row, across }) => (
                <Order
                  key={item.id}
                  order={item}
                  x={x + across * step}
                  y={y((row + 0.5) * height)}
                  side={side}
                  here={item.id === picked}
                  onPick={onPick}
                />
              ))}
              <line
                x1={beside}
                x2={beside + 16}
                y1={y(group.median)}
                y2={y(group.median)}
                stroke="var(--ink)"
                strokeWidth="3"
              />
              <text x={beside + 21} y={y(group.median) + 4} className="fill-ink2 text-[13px]">
                {money(group.median)}
              </text>
              <text
                x={x}
                y={TOP + MOST_HIGH + 28}
                textAnchor="middle"
                className="fill-ink text-[14.5px] font-semibold"
              >
                {money(group.left)}
              </text>
            </g>
          );
        })}
        <text
          x={LEFT - 8}
          y={TOP + MOST_HIGH + 28}
          textAnchor="end"
          className="fill-ink2 text-[13px]"
        >
          left
        </text>
      </svg>
    </div>
  );
}

function Order({
  order,
  x,
  y,
  side,
  here,
  onPick,
}: {
  order: LeftOrder;
  x: number;
  y: number;
  side: number;
  here: boolean;
  onPick: (id: number) => void;
}) {
  const lost = order.left < 0;
  const half = side / 2;
  const fill = here ? "var(--action)" : lost ? "var(--mind-soft)" : "var(--ink)";
  return (
    <path
      d={
        lost
          ? `M${x} ${y - half - 1}L${x + half + 1} ${y}L${x} ${y + half + 1}L${x - half - 1} ${y}Z`
          : `M${x - half} ${y - half}h${side}v${side}h${-side}Z`
      }
      fill={fill}
      stroke={
        here ? "var(--action)" : lost ? "var(--mind)" : order.charged_later ? "var(--mind)" : "none"
      }
      strokeWidth="1.5"
      className="cursor-pointer"
      onClick={() => onPick(order.id)}
    >
      <title>
        {order.number}: {order.left.toFixed(2)}
      </title>
    </path>
  );
}
