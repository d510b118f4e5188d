/**
 * A supply's slot unrolled over time: what was there, what is, what is reserved, what arrives, and the day it runs out
 * with the range it lies in nine times in ten. Made for its width.
 */
import { dayNumber, dayOf, spanOf, steps, topOf, type OutlookShown } from "../domain/stockDays";
import { dayWords } from "../domain/words";
import { niceTop, ticksTo } from "./scale";
import { useWidth } from "./useWidth";

const LEFT = 44;
const RIGHT = 16;
const TOP = 46;
const HIGH = 232;
const FOOT = 58;

interface Props {
  shown: OutlookShown;
  /** "34 pieces" of a number of the stock unit. */
  amount: (quantity: number) => string;
}

export function Outlook({ shown, amount }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(520, 1500);
  const [from, to] = spanOf(shown);
  const top = niceTop(topOf(shown) * 1.06);
  const x = (day: number) => LEFT + ((day - from) / (to - from)) * (width - LEFT - RIGHT);
  const y = (level: number) => TOP + HIGH - (Math.max(0, level) / top) * HIGH;
  const today = dayNumber(shown.today);
  const out = shown.runs_out === null ? to : dayNumber(shown.runs_out);
  const area = (list: readonly { day: string; level: number }[], until: number) =>
    areaPath(steps(list, until), x, y);
  const first = shown.with_order.find(
    (one, at) => one.level > (shown.days[at]?.level ?? Infinity) + 1e-9,
  );
  const added = first ? shown.with_order.slice(shown.with_order.indexOf(first)) : [];
  const ahead = shown.days.filter((one) => dayNumber(one.day) <= out);
  return (
    <div ref={box}>
      <svg
        width={width}
        height={TOP + HIGH + FOOT}
        viewBox={`0 0 ${width} ${TOP + HIGH + FOOT}`}
        className="block"
        role="img"
        aria-label={label(shown)}
      >
        <defs>
          <pattern
            id="arriving"
            width="7"
            height="7"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="7" height="7" fill="var(--soft)" />
            <line x1="0" y1="0" x2="0" y2="7" stroke="var(--line2)" strokeWidth="1.2" />
          </pattern>
        </defs>
        {ticksTo(top).map((tick) => (
          <g key={tick}>
            <line x1={LEFT} x2={width - RIGHT} y1={y(tick)} y2={y(tick)} className="stroke-line" />
            <text x={LEFT - 8} y={y(tick) + 4} textAnchor="end" className="fill-ink2 text-[13px]">
              {tick}
            </text>
          </g>
        ))}
        {added.length > 0 ? (
          <path
            d={area(added, dayNumber(added.at(-1)?.day ?? shown.today) + 1)}
            fill="url(#arriving)"
            stroke="var(--ink2)"
            strokeDasharray="4 3"
          />
        ) : null}
        <path d={area(shown.past, today)} fill="var(--level)" />
        <path d={rangePath(ahead, x, y, out)} fill="var(--line)" opacity="0.75" />
        <path d={area(ahead, out)} fill="var(--level)" opacity="0.75" />
        <path
          d={area(
            ahead.map((one) => ({ day: one.day, level: one.reserved })),
            out,
          )}
          fill="var(--promised)"
        />
        <path
          d={linePath(steps([...shown.past.slice(0, -1), ...ahead], out), x, y)}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="2"
        />
        {shown.mark !== null && shown.mark <= top ? (
          <MarkLine y={y(shown.mark)} right={width - RIGHT} words={`mark ${amount(shown.mark)}`} />
        ) : null}
        <Weeks from={from} to={to} x={x} y={TOP + HIGH} />
        <Today x={x(today)} words={dayWords(shown.today)} />
        {shown.order_by !== null ? (
          <Flag at={dayNumber(shown.order_by)} today={today} x={x} words={shown.order_by} />
        ) : null}
        {shown.arrivals.map((one) => (
          <Comes
            key={one.day + String(one.quantity)}
            x={x(Math.max(today, dayNumber(one.day)))}
            words={`+${amount(one.quantity)}`}
          />
        ))}
        {shown.runs_out !== null ? <RunsOut shown={shown} x={x} y={TOP + HIGH} /> : null}
      </svg>
    </div>
  );
}

function MarkLine({ y, right, words }: { y: number; right: number; words: string }) {
  return (
    <g className="text-ink">
      <line
        x1={LEFT}
        x2={right}
        y1={y}
        y2={y}
        stroke="currentColor"
        strokeDasharray="1 5"
        strokeWidth="1.6"
      />
      <path d={`M${LEFT} ${y}h16 M${right - 16} ${y}h16`} stroke="currentColor" strokeWidth="4" />
      <text x={right} y={y - 6} textAnchor="end" className="fill-ink2 text-[13px]">
        {words}
      </text>
    </g>
  );
}

/** Something is on its way and comes on that day. */
function Comes({ x, words }: { x: number; words: string }) {
  return (
    <g className="text-ink2">
      <line x1={x} x2={x} y1={TOP} y2={TOP + HIGH} stroke="currentColor" strokeDasharray="3 3" />
      <text
        x={x + 5}
        y={TOP + 12}
        className="fill-ink2 stroke-sheet text-[13px] [paint-order:stroke] [stroke-width:4px]"
      >
        {words}
      </text>
    </g>
  );
}

type Step = ReturnType<typeof steps>[number];
type Scale = (value: number) => number;

function linePath(list: readonly Step[], x: Scale, y: Scale): string {
  return list
    .map(
      (one, at) => `${at ? "L" : "M"}${x(one.from)} ${y(one.level)}L${x(one.to)} ${y(one.level)}`,
    )
    .join("");
}

function areaPath(list: readonly Step[], x: Scale, y: Scale): string {
  const [first, last] = [list[0], list.at(-1)];
  if (!first || !last) return "";
  return `${linePath(list, x, y)}L${x(last.to)} ${y(0)}L${x(first.from)} ${y(0)}Z`;
}

/** Between what is left when much is used, and when little is. */
function rangePath(
  days: readonly { day: string; low: number; high: number }[],
  x: Scale,
  y: Scale,
  until: number,
): string {
  const low = steps(
    days.map((one) => ({ day: one.day, level: one.low })),
    until,
  );
  const high = steps(
    days.map((one) => ({ day: one.day, level: one.high })),
    until,
  );
  if (low.length === 0) return "";
  const back = [...low]
    .reverse()
    .map((one) => `L${x(one.to)} ${y(one.level)}L${x(one.from)} ${y(one.level)}`)
    .join("");
  return `${linePath(high, x, y)}${back}Z`;
}

function Weeks({ from, to, x, y }: { from: number; to: number; x: Scale; y: number }) {
  const every = to - from > 110 ? 21 : to - from > 70 ? 14 : 7;
  // Mondays: day number 4 was one.
  const first = from + ((((4 - from) % 7) + 7) % 7);
  const days = Array.from(
    { length: Math.floor((to - first) / every) + 1 },
    (_, n) => first + n * every,
  );
  return (
    <g>
      {days.map((day) => (
        <g key={day}>
          <line x1={x(day)} x2={x(day)} y1={y} y2={y + 5} className="stroke-line2" />
          <text
            x={Math.min(x(day), x(to) - 6)}
            y={y + 19}
            textAnchor="middle"
            className="fill-ink2 text-[13px]"
          >
            {dayWords(dayOf(day)).replace(/^\S+ /, "")}
          </text>
        </g>
      ))}
    </g>
  );
}

function Today({ x, words }: { x: number; words: string }) {
  return (
    <g className="text-action">
      <line x1={x} x2={x} y1={20} y2={TOP + HIGH} stroke="currentColor" strokeWidth="2" />
      <rect x={x - 43} y={2} width={86} height={20} fill="currentColor" />
      <text x={x} y={16.5} textAnchor="middle" className="fill-on-action text-[13px] font-semibold">
        {words}
      </text>
    </g>
  );
}

function Flag({ at, today, x, words }: { at: number; today: number; x: Scale; words: string }) {
  const over = at < today;
  const place = x(Math.max(at, today));
  return (
    <g className={over ? "text-stop" : "text-ink"}>
      <line x1={place} x2={place} y1={28} y2={TOP + HIGH} stroke="currentColor" strokeWidth="3" />
      <path d={`M${place} 28h16l-4 6 4 6h-16Z`} fill="currentColor" />
      <text
        x={place + 22}
        y={39}
        fill="currentColor"
        className="stroke-sheet text-[14px] font-semibold [paint-order:stroke] [stroke-width:5px]"
      >
        {over ? `to order since ${dayWords(words)}` : `order by ${dayWords(words)}`}
      </text>
    </g>
  );
}

function RunsOut({ shown, x, y }: { shown: OutlookShown; x: Scale; y: number }) {
  const out = x(dayNumber(shown.runs_out ?? shown.today));
  const early = x(dayNumber(shown.early ?? shown.runs_out ?? shown.today));
  const late = shown.late === null ? null : x(dayNumber(shown.late));
  const range =
    shown.early && shown.early !== shown.late
      ? `  9 in 10: ${dayWords(shown.early)} to ${shown.late ? dayWords(shown.late) : "later"}`
      : "";
  return (
    <g className="text-stop">
      <path
        d={`M${early} ${y - 6}v12 M${early} ${y}H${late ?? out + 60}${late === null ? "" : ` M${late} ${y - 6}v12`}`}
        stroke="currentColor"
        strokeWidth="2"
      />
      <path d={`M${out - 6} ${y}l6 -6 6 6 -6 6Z`} fill="currentColor" />
      <text
        x={Math.max(LEFT, Math.min(early, out - 40))}
        y={y + 42}
        fill="currentColor"
        className="text-[14px]"
      >
        <tspan className="font-semibold">gone {dayWords(shown.runs_out ?? "")}</tspan>
        <tspan className="fill-ink2">{range}</tspan>
      </text>
    </g>
  );
}

function label(shown: OutlookShown): string {
  const parts = [
    shown.runs_out === null
      ? "It does not run out within the days looked at."
      : `It runs out on ${dayWords(shown.runs_out)}.`,
    shown.order_by === null ? "" : `Order by ${dayWords(shown.order_by)}.`,
    ...shown.arrivals.map((one) => `${one.quantity} arrive on ${dayWords(one.day)}.`),
  ];
  return `Stock over time. ${parts.filter(Boolean).join(" ")}`;
}
