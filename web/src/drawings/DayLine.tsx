/**
 * The day as a line: hand-overs as posts, parcels as long as their minutes at the table that packs them, now, and what
 * is done. Made for its width; a box is chosen with the arrow keys or dragged to another post.
 */
import { clockWords, reachOf, type DayPost, type DayShown } from "../domain/day";
import { Box, BOX_HIGH, Done, Late } from "./DayBoxes";
import { BeginBy, FLAG_WIDE, flagRows, PostFlag } from "./DayPosts";
import { useDrag } from "./useDrag";
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
const AXIS_HIGH = 46;

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
