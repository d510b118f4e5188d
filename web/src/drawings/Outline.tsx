/** The outline of a parcel seen at a slant: breakages where they were, a crack each; or to point at the place of one. */
import {
  CORNERS,
  EDGES,
  FACES,
  PLACE_WORDS,
  spotWords,
  type Face,
  type Place,
} from "../domain/arriving";
import type { ReactNode } from "react";
import { useWidth } from "./useWidth";

export interface Broken {
  place: Place;
  spot: string;
  count: number;
}

interface Props {
  outer: readonly [number, number, number];
  broken: readonly Broken[];
  /** The place in words that stands out; it is drawn in the colour of action. */
  leading?: string | null;
  /** Point at a place: corners, edges and faces answer to the finger. */
  onPoint?: (place: Place, spot: string) => void;
  picked?: { place: Place | null; spot: string } | undefined;
}

type Point = readonly [number, number];
type At = readonly [number, number, number];

/** Where length, width and height run on the page. Not alike, so that no corner lies on another, of a cube either. */
const ALONG = [0.94, 0.3] as const;
const NEARER = [-0.6, 0.46] as const;
const HIGH = 262;
const MARGIN = 34;
/** Sides that are turned away: they are reached by their dotted edges and by the list beside. */
const NEAR: Record<Face, At> = {
  bottom: [0.5, 0.5, 0],
  top: [0.5, 0.5, 1],
  front: [0.5, 1, 0.5],
  back: [0.5, 0, 0.5],
  left: [0, 0.5, 0.5],
  right: [1, 0.5, 0.5],
};
const SEEN: Record<"top" | "front" | "right", readonly At[]> = {
  top: [
    [0, 0, 1],
    [1, 0, 1],
    [1, 1, 1],
    [0, 1, 1],
  ],
  front: [
    [0, 1, 0],
    [1, 1, 0],
    [1, 1, 1],
    [0, 1, 1],
  ],
  right: [
    [1, 0, 0],
    [1, 1, 0],
    [1, 1, 1],
    [1, 0, 1],
  ],
};
const FILL = { top: "var(--board-light)", front: "var(--board)", right: "var(--hatch)" } as const;

function projection(outer: Props["outer"], whole: number) {
  const [l, w, h] = outer;
  const wide = l * ALONG[0] - w * NEARER[0];
  const high = l * ALONG[1] + w * NEARER[1] + h;
  const scale = Math.min((whole - 2 * MARGIN) / wide, (HIGH - 2 * MARGIN) / high);
  const left = (whole - wide * scale) / 2 - w * NEARER[0] * scale;
  const top = (HIGH - high * scale) / 2 + h * scale;
  return ([x, y, z]: At): Point => [
    left + (x * l * ALONG[0] + y * w * NEARER[0]) * scale,
    top + (x * l * ALONG[1] + y * w * NEARER[1] - z * h) * scale,
  ];
}

const path = (points: readonly Point[]) =>
  points.map(([x, y], at) => `${at === 0 ? "M" : "L"}${x.toFixed(1)} ${y.toFixed(1)}`).join("");

/** A crack runs from a place towards the middle of the drawing, in three strokes; each of several in its own way. */
function crack(from: Point, to: Point, which: number, of: number): string {
  const turn = ((which - (of - 1) / 2) * 34 * Math.PI) / 180;
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(dx, dy) || 1;
  const [ux, uy] = [dx / length, dy / length];
  const [vx, vy] = [
    ux * Math.cos(turn) - uy * Math.sin(turn),
    ux * Math.sin(turn) + uy * Math.cos(turn),
  ];
  const at = (along: number, aside: number): Point => [
    from[0] + vx * along - vy * aside,
    from[1] + vy * along + vx * aside,
  ];
  return path([from, at(16, 4), at(24, -4), at(42, 2)]);
}

export function Outline({ outer, broken, leading = null, onPoint, picked }: Props) {
  const [box, whole] = useWidth<HTMLElement>(260, 400);
  const point = projection(outer, whole);
  const centre = point([0.5, 0.5, 0.5]);
  const count = (place: Place, spot: string) =>
    broken.find((one) => one.place === place && one.spot === spot)?.count ?? 0;
  const isPicked = (place: Place, spot: string) => picked?.place === place && picked.spot === spot;
  const most = Math.max(0, ...broken.filter((one) => one.spot).map((one) => one.count));
  return (
    <figure ref={box}>
      <svg
        viewBox={`0 0 ${whole} ${HIGH}`}
        width={whole}
        className="block max-w-full"
        role={onPoint ? "group" : "img"}
        aria-label={onPoint ? "Point at where it broke" : describe(broken)}
      >
        {(["right", "front", "top"] as const).map((face) => (
          <Reach
            key={face}
            name={PLACE_WORDS[face]}
            picked={isPicked(face, "")}
            onPoint={onPoint && (() => onPoint(face, ""))}
          >
            <path
              d={`${path(SEEN[face].map(point))}Z`}
              fill={isPicked(face, "") ? "var(--soft)" : FILL[face]}
              stroke="none"
            />
          </Reach>
        ))}
        {EDGES.map((edge) => {
          const [a, b] = [point(edge.from), point(edge.to)];
          const hidden = [edge.from, edge.to].some((at) => at.every((value) => value === 0));
          const hits = count("edge", edge.name);
          const lit = isPicked("edge", edge.name);
          return (
            <Reach
              key={edge.name}
              name={`Edge, ${spotWords(edge.name)}`}
              picked={lit}
              onPoint={onPoint && (() => onPoint("edge", edge.name))}
            >
              <path
                d={path([a, b])}
                fill="none"
                stroke={lit ? "var(--action)" : hits > 0 ? "var(--ink)" : "var(--board-edge)"}
                strokeWidth={lit ? 5 : hits > 0 ? 4 : hidden ? 1 : 1.6}
                strokeDasharray={hidden && !lit ? "2 4" : undefined}
              />
              {onPoint ? (
                <path d={path([a, b])} fill="none" stroke="transparent" strokeWidth="16" />
              ) : null}
              {hits > 0 ? (
                <Count at={[(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]} count={hits} strong={false} />
              ) : null}
            </Reach>
          );
        })}
        {CORNERS.map((corner) => {
          const at = point(corner.from);
          const hits = count("corner", corner.name);
          const lit = isPicked("corner", corner.name);
          const leads = leading === "corner" && hits === most && hits > 0;
          return (
            <Reach
              key={corner.name}
              name={`Corner, ${spotWords(corner.name)}`}
              picked={lit}
              onPoint={onPoint && (() => onPoint("corner", corner.name))}
            >
              {onPoint ? (
                <circle
                  cx={at[0]}
                  cy={at[1]}
                  r={lit ? 9 : 7}
                  fill={lit ? "var(--action)" : "var(--sheet)"}
                  stroke={lit ? "var(--action)" : "var(--board-edge)"}
                  strokeWidth="2"
                />
              ) : null}
              {onPoint ? <circle cx={at[0]} cy={at[1]} r="20" fill="transparent" /> : null}
              {Array.from({ length: Math.min(hits, 5) }, (_, n) => (
                <path
                  key={n}
                  d={crack(at, centre, n, Math.min(hits, 5))}
                  fill="none"
                  stroke="var(--ink)"
                  strokeWidth="1.8"
                />
              ))}
              {leads ? (
                <circle
                  cx={at[0]}
                  cy={at[1]}
                  r="13"
                  fill="none"
                  stroke="var(--action)"
                  strokeWidth="2.4"
                />
              ) : null}
              {hits > 0 ? <Count at={outward(at, centre, 26)} count={hits} strong={leads} /> : null}
            </Reach>
          );
        })}
        {FACES.filter((face) => face in SEEN).map((face) => {
          const hits = count(face, "");
          return hits > 0 ? (
            <Count key={face} at={point(NEAR[face])} count={hits} strong={leading === face} />
          ) : null;
        })}
      </svg>
    </figure>
  );
}

const outward = (at: Point, centre: Point, by: number): Point => {
  const [dx, dy] = [at[0] - centre[0], at[1] - centre[1]];
  const length = Math.hypot(dx, dy) || 1;
  return [at[0] + (dx / length) * by, at[1] + (dy / length) * by];
};

function Count({ at, count, strong }: { at: Point; count: number; strong: boolean }) {
  return (
    <text
      x={at[0]}
      y={at[1] + 6}
      textAnchor="middle"
      fontFamily="var(--font-head)"
      fontSize={strong ? 24 : 19}
      fontWeight="650"
      fill={strong ? "var(--action)" : "var(--ink)"}
      pointerEvents="none"
    >
      {count}
    </text>
  );
}

/** A part of the outline that may be pointed at; by keys, the list beside does the same. */
function Reach({
  name,
  picked,
  onPoint,
  children,
}: {
  name: string;
  picked: boolean;
  onPoint: (() => void) | undefined;
  children: ReactNode;
}) {
  if (!onPoint) return <g>{children}</g>;
  return (
    <g
      role="button"
      tabIndex={-1}
      aria-label={name}
      aria-pressed={picked}
      className="cursor-pointer"
      onClick={onPoint}
      onKeyDown={(event) => event.key === "Enter" && onPoint()}
    >
      <title>{name}</title>
      {children}
    </g>
  );
}

function describe(broken: readonly Broken[]): string {
  const told = broken
    .filter((one) => one.count > 0)
    .map(
      (one) =>
        `${PLACE_WORDS[one.place]}${one.spot ? `, ${spotWords(one.spot)}` : ""}: ${one.count}`,
    );
  return told.length === 0
    ? "Outline of the parcel; nothing broke"
    : `Where it broke. ${told.join("; ")}`;
}
