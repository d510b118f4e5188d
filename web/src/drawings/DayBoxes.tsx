/** The parcels on the line of the day: to pack, at the bench, packed, too late. */
import type { PointerEvent } from "react";
import { clockWords, type DayParcel, type DayPost } from "../domain/day";

export const BOX_HIGH = 40;
/** A box shows its number from this width on. */
const ROOM_FOR_NUMBER = 36;
/** And upright from this. */
const ROOM_UPRIGHT = 13;

export function Done({ parcel, x, y }: { parcel: DayParcel; x: number; y: number }) {
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

export function Box({
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
export function Late({
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
