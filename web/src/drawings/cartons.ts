/** Which carton of a parcel a layer is about: one, or the second of two strapped together. No React. */
import type { Layer } from "./types";

type Strappable<Carton> = Carton & { strapped?: { cartons: readonly { candidate: Carton }[] } | null };

export interface CartonView<Carton> { drawn: Carton; layers: Layer[]; at: number }

/** The carton the shown layer lies in, its own layers, and where among them that layer is. */
export function cartonAt<Carton>(parcel: Strappable<Carton>, layers: readonly Layer[], at: number): CartonView<Carton> {
  const number = layers[at]?.carton ?? 0;
  const drawn = parcel.strapped?.cartons[number]?.candidate ?? parcel;
  const own = layers.filter((layer) => (layer.carton ?? 0) === number);
  const shown = layers[at];
  return { drawn, layers: own, at: shown ? own.indexOf(shown) : at };
}
