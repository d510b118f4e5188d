/** The way of a parcel: hours to the right, temperature upwards, the goods between their limits, where it is below. */
import {
  clockHour,
  degrees,
  LEG_WORDS,
  legsOf,
  spanOf,
  wayWords,
  type LegKind,
  type WayHour,
} from "../domain/heat";
import { dayWords } from "../domain/words";
import { useWidth } from "./useWidth";

interface Props {
  hours: readonly WayHour[];
  low: number | null;
  high: number | null;
  imperial: boolean;
}

const [LEFT, RIGHT, TOP, HIGH] = [52, 14, 14, 168];

export function WayStrip({ hours, low, high, imperial }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(320, 1100);
  const [least, most] = spanOf(hours, [low, high]);
  const x = (hour: number) => LEFT + (hour / Math.max(1, hours.length)) * (width - LEFT - RIGHT);
  const y = (celsius: number) => TOP + ((most - celsius) / (most - least)) * HIGH;
  const every = most - least > 40 ? 10 : 5;
  const ticks = Array.from(
    { length: Math.floor((most - least) / every) + 1 },
    (_, n) => Math.ceil(least / every) * every + n * every,
  ).filter((one) => one <= most);
  const middle = (at: number) => x(at + 0.5);
  const path = (of: (hour: WayHour) => number) =>
    hours.map((hour, at) => `${at ? "L" : "M"}${middle(at)} ${y(of(hour))}`).join("");
  const usualFrom = hours.findIndex((hour) => !hour.forecast);
  return (
    <div ref={box}>
      <svg
        viewBox={`0 0 ${width} ${TOP + HIGH + 66}`}
        width={width}
        height={TOP + HIGH + 66}
        role="img"
        aria-label={wayWords(hours, low, high, imperial)}
        className="block max-w-full text-[13px]"
      >
        <rect
          x={LEFT}
          width={width - LEFT - RIGHT}
          y={y(high ?? most)}
          height={Math.max(0, y(low ?? least) - y(high ?? most))}
          className="fill-soft"
        />
        {ticks.map((one) => (
          <g key={one}>
            <line x1={LEFT} x2={width - RIGHT} y1={y(one)} y2={y(one)} className="stroke-line" />
            <text x={LEFT - 8} y={y(one) + 4.5} textAnchor="end" className="fill-ink2">
              {degrees(one, imperial)}
            </text>
          </g>
        ))}
        {usualFrom >= 0 ? (
          <text x={x(usualFrom) + 5} y={TOP + 12} className="fill-ink2">
            usual weather from here
          </text>
        ) : null}
        <Midnights hours={hours} x={x} />
        <path
          d={path((hour) => hour.outside_c)}
          className="fill-none stroke-ink2"
          strokeWidth="1.5"
          strokeDasharray="5 4"
        />
        <path
          d={path((hour) => hour.inside_c)}
          className="fill-none stroke-ink"
          strokeWidth="2.6"
        />
        <Over hours={hours} low={low} high={high} x={middle} y={y} />
        {high === null ? null : (
          <Limit y={y(high)} right={width - RIGHT} words={`at most ${degrees(high, imperial)}`} />
        )}
        {low === null ? null : (
          <Limit
            y={y(low)}
            right={width - RIGHT}
            words={`at least ${degrees(low, imperial)}`}
            under
          />
        )}
        {legsOf(hours).map((leg) => (
          <Leg key={leg.from} kind={leg.kind} from={x(leg.from)} to={x(leg.to)} />
        ))}
      </svg>
      <p className="mt-0.5 flex flex-wrap gap-x-5 text-small text-ink2">
        <span>
          <svg width="26" height="8" aria-hidden="true" className="mr-1.5 inline-block">
            <line x1="0" x2="26" y1="4" y2="4" className="stroke-ink" strokeWidth="2.6" />
          </svg>
          the goods
        </span>
        <span>
          <svg width="26" height="8" aria-hidden="true" className="mr-1.5 inline-block">
            <line
              x1="0"
              x2="26"
              y1="4"
              y2="4"
              className="stroke-ink2"
              strokeWidth="1.5"
              strokeDasharray="5 4"
            />
          </svg>
          the air round the parcel
        </span>
      </p>
    </div>
  );
}

/** Where the goods leave their limits, thicker. */
function Over({
  hours,
  low,
  high,
  x,
  y,
}: {
  hours: readonly WayHour[];
  low: number | null;
  high: number | null;
  x: (at: number) => number;
  y: (celsius: number) => number;
}) {
  const out = (hour: WayHour) =>
    (low !== null && hour.inside_c < low - 0.05) || (high !== null && hour.inside_c > high + 0.05);
  let path = "";
  hours.forEach((hour, at) => {
    const before = hours[at - 1];
    if (out(hour)) path += `${before && out(before) ? "L" : "M"}${x(at)} ${y(hour.inside_c)}`;
  });
  return <path d={path} className="fill-none stroke-stop" strokeWidth="5" strokeLinecap="round" />;
}

/** A limit, its words at the left: there the goods are still between them. */
function Limit({
  y,
  right,
  words,
  under = false,
}: {
  y: number;
  right: number;
  words: string;
  under?: boolean;
}) {
  return (
    <g>
      <line x1={LEFT} x2={right} y1={y} y2={y} className="stroke-ink" strokeWidth="1.4" />
      <text
        x={LEFT + 6}
        y={under ? y + 16 : y - 6}
        className="fill-ink stroke-sheet font-semibold [paint-order:stroke] [stroke-width:4px]"
      >
        {words}
      </text>
    </g>
  );
}

function Midnights({ hours, x }: { hours: readonly WayHour[]; x: (at: number) => number }) {
  const days = hours.flatMap((hour, at) =>
    at === 0 || clockHour(hour.begins) === 0 ? [{ at, day: hour.begins.slice(0, 10) }] : [],
  );
  return (
    <g>
      {days.map((one, index) => {
        const next = days[index + 1]?.at ?? hours.length;
        return (
          <g key={one.at}>
            {one.at > 0 ? (
              <line
                x1={x(one.at)}
                x2={x(one.at)}
                y1={TOP}
                y2={TOP + HIGH + 46}
                className="stroke-line2"
              />
            ) : null}
            {x(next) - x(one.at) > 70 ? (
              <text x={x(one.at) + 5} y={TOP + HIGH + 58} className="fill-ink2">
                {dayWords(one.day)}
              </text>
            ) : null}
          </g>
        );
      })}
    </g>
  );
}

/** One part of the way as a bar: each kind of place has a shape of its own, and its name where there is room. */
function Leg({ kind, from, to }: { kind: LegKind; from: number; to: number }) {
  const y = TOP + HIGH + 14;
  const shape: Record<LegKind, string> = {
    van: "fill-ink2",
    night: "fill-line2",
    depot: "fill-sheet stroke-ink2",
    waiting: "fill-mind-soft stroke-mind",
    doorstep: "fill-sheet stroke-ink",
  };
  return (
    <g>
      <title>{LEG_WORDS[kind]}</title>
      <rect
        x={from + 0.75}
        y={y}
        width={Math.max(1, to - from - 1.5)}
        height={8}
        strokeWidth="1.2"
        className={shape[kind]}
      />
      {to - from > LEG_WORDS[kind].length * 7.4 ? (
        <text x={from + 3} y={y + 23} className="fill-ink2">
          {LEG_WORDS[kind]}
        </text>
      ) : null}
    </g>
  );
}
