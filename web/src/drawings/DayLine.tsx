/**
 * The day as a line: hand-overs as posts, parcels as long as their minutes at the table that packs them, now, and what
 * is done. Made for its width; a box is chosen with the arrow keys or dragged to another post.
 */
import { useRef, useState, type PointerEvent } from "react";
import { clockWords, reachOf, type DayParcel, type DayPost, type DayShown } from "../domain/day";
import { useWidth } from "./useWidth";

interface Props {
  day: DayShown;
  now_s: number;
  at: string | null;
  onPick: (key: string) => void;
  /** A box was dropped on a post. */
  onDrop: (key: string, post: string) => void;
}

const LEFT = 112;
const RIGHT = 24;
const FLAG_HIGH = 34;
const LANE_HIGH = 58;
const BOX_HIGH = 40;
const AXIS_HIGH = 46;
/** A box shows its number from this width on. */
const ROOM_FOR_NUMBER = 36;
/** And upright from this. */
const ROOM_UPRIGHT = 13;
/** Flags closer than this stand in different rows. */
const FLAG_WIDE = 190;

/** Rows of the flags, by where each begins: each takes the first row in which it stands clear of the one before. */
export function flagRows(begins: readonly number[]): number[] {
  const ends: number[] = [];
  return begins.map((begin) => {
    const row = ends.findIndex((end) => begin >= end);
    const at = row === -1 ? ends.length : row;
    ends[at] = begin + FLAG_WIDE;
    return at;
  });
}

export function DayLine({ day, now_s, at, onPick, onDrop }: Props) {
  const [box, width] = useWidth<HTMLDivElement>(620, 1900);
  const [from, to] = reachOf(day, now_s);
  const x = (moment: number) => LEFT + ((moment - from) / (to - from)) * (width - LEFT - RIGHT);
  const posts = day.posts.filter((post) => post.at_s >= from && post.at_s <= to);
  const flips = (post: DayPost) => x(post.at_s) > width - FLAG_WIDE - 4;
  const rows = flagRows(
    posts.map((post) => (flips(post) ? x(post.at_s) - FLAG_WIDE : x(post.at_s))),
  );
  const flags = (Math.max(-1, ...rows) + 1) * FLAG_HIGH + 8;
  const lanes = Math.max(1, day.people.length);
  const bottom = flags + lanes * LANE_HIGH;
  const late = day.parcels.filter((one) => one.late !== null);
  const high = bottom + (late.length > 0 ? LANE_HIGH : 0) + AXIS_HIGH;
  const drag = useDrag(posts, x, onPick, onDrop);
  const done = day.parcels.filter(
    (one) =>
      (one.state === "closed" || one.state === "left") && one.end_s !== null && one.end_s >= from,
  );
  const first = posts
    .filter((post) => post.begin_by_s !== null && post.waiting > 0)
    .sort((one, other) => (one.begin_by_s ?? 0) - (other.begin_by_s ?? 0))[0];
  return (
    <div ref={box} className="overflow-hidden">
      <svg
        width={width}
        height={high}
        viewBox={`0 0 ${width} ${high}`}
        className="block touch-none select-none"
        role="img"
        aria-label="The day: hand-overs, and the parcels in the order they are packed. The same stands in the lists below."
      >
        <Hours from={from} to={to} x={x} top={flags} bottom={high - AXIS_HIGH} />
        {day.people.map((person, lane) => (
          <text
            key={person.who + lane}
            x={24}
            y={flags + lane * LANE_HIGH + LANE_HIGH / 2 + 5}
            className="fill-ink font-head text-[15px] font-semibold"
          >
            {person.who || "One person"}
          </text>
        ))}
        {done.map((one) => (
          <Done key={one.key} parcel={one} x={x(one.end_s ?? from)} y={flags + 4} />
        ))}
        {day.parcels.map((one) =>
          one.table === null || one.start_s === null || one.end_s === null ? null : (
            <Box
              key={one.key}
              parcel={one}
              x={x(one.start_s)}
              wide={Math.max(2, x(one.end_s) - x(one.start_s) - 1.5)}
              y={flags + one.table * LANE_HIGH + (LANE_HIGH - BOX_HIGH) / 2}
              at={at === one.key}
              post={posts.findIndex((post) => post.key === one.post) + 1}
              shift={drag.key === one.key ? drag.shift : 0}
              onDown={(event) => drag.down(event, one.key)}
            />
          ),
        )}
        {late.length > 0 ? (
          <Late
            parcels={late}
            x={LEFT}
            y={bottom + 8}
            room={width - LEFT - RIGHT}
            at={at}
            onDown={drag.down}
            posts={posts}
          />
        ) : null}
        {posts.map((post, index) => (
          <PostFlag
            key={post.key}
            post={post}
            number={index + 1}
            x={x(post.at_s)}
            flip={flips(post)}
            y={(rows[index] ?? 0) * FLAG_HIGH}
            bottom={high - AXIS_HIGH}
            over={drag.over === post.key}
          />
        ))}
        {posts.map((post) =>
          post.begin_by_s === null || post.begin_by_s < from || post.waiting === 0 ? null : (
            <BeginBy key={post.key} x={x(post.begin_by_s)} y={bottom} post={post} first={first} />
          ),
        )}
        {day.is_today ? (
          <Now x={x(now_s)} top={flags - 6} bottom={high - AXIS_HIGH} now_s={now_s} />
        ) : null}
      </svg>
    </div>
  );
}

/** The latest start of a hand-over; the first of them is the day's and is written out. */
function BeginBy({
  x,
  y,
  post,
  first,
}: {
  x: number;
  y: number;
  post: DayPost;
  first: DayPost | undefined;
}) {
  return (
    <g className="text-action">
      <path d={`M${x - 5} ${y + 1} l5 -8 l5 8 Z`} fill="currentColor" />
      {post.key === first?.key ? (
        <text
          x={x - 9}
          y={y - 1}
          textAnchor="end"
          fill="currentColor"
          className="stroke-sheet text-[13px] [paint-order:stroke] [stroke-width:4px]"
        >
          begin by {clockWords(post.begin_by_s ?? 0)}
        </text>
      ) : null}
    </g>
  );
}

function Hours({
  from,
  to,
  x,
  top,
  bottom,
}: {
  from: number;
  to: number;
  x: (moment: number) => number;
  top: number;
  bottom: number;
}) {
  const hours = Array.from(
    { length: Math.floor((to - from) / 3600) + 1 },
    (_, n) => from + n * 3600,
  );
  const halves = hours.slice(0, -1).map((hour) => hour + 1800);
  return (
    <g>
      {[...hours, ...halves].map((moment) => (
        <line
          key={moment}
          x1={x(moment)}
          x2={x(moment)}
          y1={top}
          y2={bottom}
          className="stroke-line"
          strokeWidth={moment % 3600 === 0 ? 1 : 0.5}
        />
      ))}
      {hours.map((hour) => (
        <text
          key={hour}
          x={x(hour)}
          y={bottom + 20}
          textAnchor="middle"
          className="fill-ink2 text-[13px]"
        >
          {clockWords(hour)}
        </text>
      ))}
    </g>
  );
}

function Done({ parcel, x, y }: { parcel: DayParcel; x: number; y: number }) {
  return (
    <g>
      <title>{`${parcel.number}, ${parcel.buyer}: closed at ${clockWords(parcel.end_s ?? 0)}${parcel.state === "left" ? ", handed over" : ""}`}</title>
      <rect
        x={x - 5}
        y={y}
        width={10}
        height={10}
        className={parcel.state === "left" ? "fill-ink stroke-ink" : "fill-sheet stroke-ink"}
        strokeWidth={1.5}
      />
    </g>
  );
}

function Box({
  parcel,
  x,
  wide,
  y,
  at,
  post,
  shift,
  onDown,
}: {
  parcel: DayParcel;
  x: number;
  wide: number;
  y: number;
  at: boolean;
  post: number;
  shift: number;
  onDown: (event: PointerEvent) => void;
}) {
  const bench = parcel.state === "bench";
  const tone = at
    ? "fill-action stroke-action"
    : bench
      ? "fill-soft stroke-action"
      : "fill-board-light stroke-board-edge";
  return (
    <g
      transform={`translate(${x + shift} ${y})`}
      onPointerDown={onDown}
      className="cursor-grab"
      opacity={shift ? 0.8 : 1}
    >
      <title>{told(parcel)}</title>
      <rect
        width={wide}
        height={BOX_HIGH}
        className={tone}
        strokeWidth={at || bench ? 2 : 1}
        strokeDasharray={parcel.chosen ? "4 2" : undefined}
      />
      <Label
        number={parcel.number}
        post={post}
        wide={wide}
        tone={at ? "fill-on-action" : "fill-ink"}
        soft={at ? "fill-on-action" : "fill-ink2"}
      />
    </g>
  );
}

/** A box's number and its post: side by side where there is room, upright in a narrow box, none in a sliver. */
function Label({
  number,
  post,
  wide,
  tone,
  soft,
}: {
  number: string;
  post: number;
  wide: number;
  tone: string;
  soft: string;
}) {
  if (wide < ROOM_UPRIGHT) return null;
  if (wide < ROOM_FOR_NUMBER)
    return (
      <text
        transform={`translate(${wide / 2 + 4} ${BOX_HIGH / 2}) rotate(-90)`}
        textAnchor="middle"
        className={`text-[11px] font-semibold ${tone}`}
      >
        {fitting(number, BOX_HIGH + 2)}
      </text>
    );
  return (
    <>
      <text
        x={wide / 2}
        y={BOX_HIGH / 2 + 1}
        textAnchor="middle"
        className={`text-[12.5px] font-semibold ${tone}`}
      >
        {fitting(number, wide)}
      </text>
      <text x={wide / 2} y={BOX_HIGH - 6} textAnchor="middle" className={`text-[11px] ${soft}`}>
        {post > 0 ? `▸${post}` : ""}
      </text>
    </>
  );
}

const fitting = (text: string, wide: number): string =>
  text.length * 7.4 <= wide - 4
    ? text
    : `…${text.slice(-Math.max(1, Math.floor((wide - 12) / 7.4)))}`;

const told = (parcel: DayParcel): string =>
  `${parcel.number}${parcel.parts > 1 ? `, ${parcel.part} of ${parcel.parts}` : ""}, ${parcel.buyer}: ` +
  `${clockWords(parcel.start_s ?? 0)} to ${clockWords(parcel.end_s ?? 0)}${parcel.in_row ? ", like the one before" : ""}`;

/** What does not make it stands below the tables, in the order it came. */
function Late({
  parcels,
  x,
  y,
  room,
  at,
  onDown,
  posts,
}: {
  parcels: DayParcel[];
  x: number;
  y: number;
  room: number;
  at: string | null;
  onDown: (event: PointerEvent, key: string) => void;
  posts: readonly DayPost[];
}) {
  const wide = Math.max(8, Math.min(64, room / parcels.length - 4));
  return (
    <g>
      <text x={24} y={y + 26} className="fill-stop font-head text-[15px] font-semibold">
        Too late
      </text>
      {parcels.map((one, index) => (
        <g
          key={one.key}
          transform={`translate(${x + index * (wide + 4)} ${y})`}
          className="cursor-grab"
          onPointerDown={(event) => onDown(event, one.key)}
        >
          <title>{`${one.number}, ${one.buyer}`}</title>
          <rect
            width={wide}
            height={BOX_HIGH}
            className={at === one.key ? "fill-action stroke-action" : "fill-stop-soft stroke-stop"}
            strokeWidth={1.5}
          />
          <Label
            number={one.number}
            post={posts.findIndex((post) => post.key === one.post) + 1}
            wide={wide}
            tone={at === one.key ? "fill-on-action" : "fill-stop"}
            soft={at === one.key ? "fill-on-action" : "fill-stop"}
          />
        </g>
      ))}
    </g>
  );
}

function PostFlag({
  post,
  number,
  x,
  flip,
  y,
  bottom,
  over,
}: {
  post: DayPost;
  number: number;
  x: number;
  flip: boolean;
  y: number;
  bottom: number;
  over: boolean;
}) {
  const side = flip ? -1 : 1;
  const counts = [
    post.waiting > 0 ? `${post.waiting} to pack` : "",
    post.ready > 0 ? `${post.ready} ready` : "",
    post.left > 0 ? `${post.left} gone` : "",
  ].filter(Boolean);
  return (
    <g className={over ? "text-action" : post.late > 0 ? "text-stop" : "text-ink"}>
      <line
        x1={x}
        x2={x}
        y1={y + 2}
        y2={bottom}
        stroke="currentColor"
        strokeWidth={over ? 4 : 2.5}
      />
      <path
        d={`M${x} ${y + 2} h${13 * side} l${-4 * side} 5.5 l${4 * side} 5.5 h${-13 * side} Z`}
        fill="currentColor"
      />
      <text
        x={x + 19 * side}
        y={y + 13}
        textAnchor={flip ? "end" : "start"}
        fill="currentColor"
        className="stroke-sheet text-[14px] font-semibold [paint-order:stroke] [stroke-width:5px]"
      >
        {`${number} ${clockWords(post.at_s)} ${post.name}`}
      </text>
      <text
        x={x + 19 * side}
        y={y + 28}
        textAnchor={flip ? "end" : "start"}
        className="fill-ink2 stroke-sheet text-[12.5px] [paint-order:stroke] [stroke-width:5px]"
      >
        {counts.join(", ") || "nothing yet"}
      </text>
    </g>
  );
}

function Now({ x, top, bottom, now_s }: { x: number; top: number; bottom: number; now_s: number }) {
  return (
    <g className="text-action">
      <line x1={x} x2={x} y1={top} y2={bottom + 26} stroke="currentColor" strokeWidth={2} />
      <rect x={x - 25} y={bottom + 26} width={50} height={19} fill="currentColor" />
      <text
        x={x}
        y={bottom + 40}
        textAnchor="middle"
        className="fill-on-action text-[13px] font-semibold"
      >
        {clockWords(now_s)}
      </text>
    </g>
  );
}

/** Dragging a box: a press picks it, a move of some pixels carries it, and a drop beside a post is a wish. */
function useDrag(
  posts: readonly DayPost[],
  x: (moment: number) => number,
  onPick: (key: string) => void,
  onDrop: (key: string, post: string) => void,
) {
  const [held, setHeld] = useState<{ key: string; shift: number; over: string | null } | null>(
    null,
  );
  const begun = useRef({ x: 0, left: 0 });
  const near = (px: number): string | null => {
    const found = posts
      .map((post) => ({ post, away: Math.abs(x(post.at_s) - px) }))
      .sort((one, other) => one.away - other.away)[0];
    return found && found.away < 48 ? found.post.key : null;
  };
  const down = (event: PointerEvent, key: string) => {
    onPick(key);
    const svg = (event.currentTarget as Element).closest("svg");
    if (!svg) return;
    begun.current = { x: event.clientX, left: svg.getBoundingClientRect().left };
    setHeld({ key, shift: 0, over: null });
    const move = (to: globalThis.PointerEvent) => {
      const shift = to.clientX - begun.current.x;
      if (Math.abs(shift) < 6) return;
      setHeld({ key, shift, over: near(to.clientX - begun.current.left) });
    };
    const up = (to: globalThis.PointerEvent) => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", up);
      setHeld(null);
      const post = near(to.clientX - begun.current.left);
      if (to.type === "pointerup" && Math.abs(to.clientX - begun.current.x) >= 6 && post)
        onDrop(key, post);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", up);
  };
  return { key: held?.key ?? null, shift: held?.shift ?? 0, over: held?.over ?? null, down };
}
