/** Which carton of a parcel a layer is about: one, or one of two that are strapped together. No React. */
import type { BoxSize, Layer, Placed } from "./types";

interface Strapped<Carton> {
  cartons: readonly { candidate: Carton }[];
  placements: readonly Placed[];
}
type Strappable<Carton> = Carton & { outer: BoxSize; strapped?: Strapped<Carton> | null };

export interface CartonView<Carton> {
  drawn: Carton;
  layers: Layer[];
  at: number;
}

/** The carton the shown layer lies in, its own layers, and where among them that layer is; at the strap, both from outside. */
export function cartonAt<Carton>(
  parcel: Strappable<Carton>,
  layers: readonly Layer[],
  at: number,
): CartonView<Carton> {
  const shown = layers[at];
  if (parcel.strapped && shown?.kind === "strap") {
    const placements = parcel.strapped.placements;
    const drawn = {
      ...parcel,
      kind: "mailer",
      inner: parcel.outer,
      placements,
      nested: null,
      floor_um: 0,
      top_um: parcel.outer.height_um,
      void: null,
    };
    return {
      drawn,
      layers: [
        {
          ...shown,
          kind: "units",
          from_um: 0,
          to_um: parcel.outer.height_um,
          placements: placements.map((_, index) => index),
        },
      ],
      at: 0,
    };
  }
  const number = shown?.carton ?? 0;
  const drawn = parcel.strapped?.cartons[number]?.candidate ?? parcel;
  const own = layers.filter((layer) => (layer.carton ?? 0) === number && layer.kind !== "strap");
  return { drawn, layers: own, at: shown ? own.indexOf(shown) : at };
}
