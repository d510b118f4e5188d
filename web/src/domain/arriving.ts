/** Words of how parcels arrived, and where on a parcel things break. No React. */
export type Outcome = "whole" | "marked" | "broken" | "spoiled" | "late" | "lost" | "unknown";
export type Place =
  | "bottom"
  | "top"
  | "front"
  | "back"
  | "left"
  | "right"
  | "edge"
  | "corner"
  | "between_units"
  | "lid"
  | "handle";

export const OUTCOME_WORDS: Record<Outcome, string> = {
  whole: "whole",
  marked: "marked",
  broken: "broken",
  spoiled: "spoiled",
  late: "late, whole",
  lost: "lost",
  unknown: "not known",
};

export const PLACE_WORDS: Record<Place, string> = {
  bottom: "Bottom",
  top: "Top",
  front: "Front",
  back: "Back",
  left: "Left side",
  right: "Right side",
  edge: "Edge",
  corner: "Corner",
  between_units: "Unit against unit",
  lid: "Lid of a unit",
  handle: "Handle",
};

export const PLACES = Object.keys(PLACE_WORDS) as Place[];
export const FACES = ["bottom", "top", "front", "back", "left", "right"] as const;
export type Face = (typeof FACES)[number];

/** Where a spot is, in fractions of length, width and height: 1 is nearer, and up. */
export interface Spot {
  place: "corner" | "edge";
  name: string;
  from: readonly [number, number, number];
  to: readonly [number, number, number];
}

const SIDES = [
  ["left", "right"],
  ["back", "front"],
  ["bottom", "top"],
] as const;

const named = (at: readonly (number | null)[]): string =>
  [2, 1, 0]
    .flatMap((axis) => {
      const value = at[axis];
      return value === null || value === undefined ? [] : [SIDES[axis]?.[value] ?? ""];
    })
    .join("-");

const BITS = [0, 1] as const;

export const CORNERS: readonly Spot[] = BITS.flatMap((x) =>
  BITS.flatMap((y) =>
    BITS.map((z): Spot => {
      const at = [x, y, z] as const;
      return { place: "corner", name: named(at), from: at, to: at };
    }),
  ),
);

export const EDGES: readonly Spot[] = [0, 1, 2].flatMap((along) =>
  BITS.flatMap((a) =>
    BITS.map((b): Spot => {
      const ends = BITS.map((end) => {
        const at: [number, number, number] = [0, 0, 0];
        const [one, other] = [0, 1, 2].filter((axis) => axis !== along) as [number, number];
        at[along] = end;
        at[one] = a;
        at[other] = b;
        return at;
      }) as [[number, number, number], [number, number, number]];
      const name: (number | null)[] = [...ends[0]];
      name[along] = null;
      return { place: "edge", name: named(name), from: ends[0], to: ends[1] };
    }),
  ),
);

/** "bottom-front-left" as it is said: "near bottom corner" needs no words of ours; the sides are named. */
export const spotWords = (spot: string): string => spot.replaceAll("-", " ");

/** "Corner, bottom front left" */
export const placeWords = (place: Place | null, spot: string): string =>
  place === null
    ? "place not said"
    : spot
      ? `${PLACE_WORDS[place]}, ${spotWords(spot)}`
      : PLACE_WORDS[place];
