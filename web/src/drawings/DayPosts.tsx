/** The hand-overs on the line of the day: posts with their flags, and the latest start of each. */
import { clockWords, type DayPost } from "../domain/day";

/** Flags closer than this stand in different rows. */
export const FLAG_WIDE = 190;

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

/** The latest start of a hand-over; the first of them is the day's and is written out. */
export function BeginBy({
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

export function PostFlag({
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
