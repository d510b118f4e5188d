/** The slanted view's geometry: which way is near, and in what order blocks are painted. No React. */
import type { Drawn } from "./types";

export interface Unit {
  index: number;
  name: string;
  at: [number, number, number];
  size: [number, number, number];
}

const COS = Math.cos((27 * Math.PI) / 180);
const SIN = Math.sin((27 * Math.PI) / 180);

/** Fit the inside of a container into the given drawing area; larger x and y are nearer. */
export function project(size: [number, number, number], wide: number, high: number) {
  const [l, w, h] = size;
  const scale = Math.min(wide / ((l + w) * COS), high / ((l + w) * SIN + h));
  const left = 75 + (wide - (l + w) * COS * scale) / 2 + w * COS * scale;
  const top = 18 + (high - ((l + w) * SIN + h) * scale) / 2 + h * scale;
  const point = (x: number, y: number, z: number): [number, number] => [
    left + (x - y) * COS * scale,
    top + (x + y) * SIN * scale - z * scale,
  ];
  return { point, scale };
}

/** What is drawn: a carton's inside; a mailer as it lies filled, the contents in its middle, moved in by so much. */
export function frameOf(parcel: Drawn): {
  size: [number, number, number];
  inset: [number, number];
} {
  const { inner, outer } = parcel;
  const lies = parcel.kind === "mailer" && outer ? outer : inner;
  return {
    size: [lies.length_um, lies.width_um, inner.height_um],
    inset: [(lies.length_um - inner.length_um) / 2, (lies.width_um - inner.width_um) / 2],
  };
}

/** Every unit in the outer's own axes; those in an inner carton are moved to where it stands. */
export function units(parcel: Drawn): Unit[] {
  const nested = parcel.nested;
  const home = parcel.placements[0];
  if (!nested || !home)
    return parcel.placements.map((p, index) => ({
      index,
      name: p.unit,
      at: three(p.at_um),
      size: three(p.size_um),
    }));
  const [hx, hy, hz] = three(home.at_um);
  const wall = [
    nested.outer.length_um - nested.inner.length_um,
    nested.outer.width_um - nested.inner.width_um,
    nested.outer.height_um - nested.inner.height_um,
  ].map((n) => n / 2);
  const turned = home.size_um[0] !== nested.outer.length_um;
  return nested.placements.map((p, index) => {
    const [x, y, z] = three(p.at_um);
    const [dx, dy, dz] = three(p.size_um);
    const at: [number, number, number] = turned
      ? [hx + (wall[1] ?? 0) + y, hy + (wall[0] ?? 0) + x, hz + (wall[2] ?? 0) + z]
      : [hx + (wall[0] ?? 0) + x, hy + (wall[1] ?? 0) + y, hz + (wall[2] ?? 0) + z];
    return { index, name: p.unit, at, size: turned ? [dy, dx, dz] : [dx, dy, dz] };
  });
}

const three = (values: readonly number[]): [number, number, number] => [
  values[0] ?? 0,
  values[1] ?? 0,
  values[2] ?? 0,
];

/** Far before near: a block is painted before every block that stands in front of it, beside it, or on it. */
export function paintOrder(all: readonly Unit[]): Unit[] {
  const behind = (a: Unit, b: Unit) =>
    [0, 1, 2].some((axis) => (a.at[axis] ?? 0) + (a.size[axis] ?? 0) <= (b.at[axis] ?? 0));
  const waiting = [...all];
  const done: Unit[] = [];
  while (waiting.length > 0) {
    const free = waiting.findIndex((one) =>
      waiting.every((other) => other === one || !behind(other, one) || behind(one, other)),
    );
    done.push(...waiting.splice(free === -1 ? 0 : free, 1));
  }
  return done;
}
