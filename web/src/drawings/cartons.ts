/** Which carton of a parcel a layer is about: one, or the second of two strapped together. No React. */
import type { Drawn, Layer } from "./types";

interface Strappable extends Drawn { strapped?: { cartons: readonly { candidate: Drawn }[] } | null }

export interface CartonView { drawn: Drawn; layers: Layer[]; at: number }

/** The carton the shown layer lies in, its own layers, and where among them that layer is. */
export function cartonAt(parcel: Strappable, layers: readonly Layer[], at: number): CartonView {
  const number = layers[at]?.carton ?? 0;
  const drawn = parcel.strapped?.cartons[number]?.candidate ?? parcel;
  const own = layers.filter((layer) => (layer.carton ?? 0) === number);
  const shown = layers[at];
  return { drawn, layers: own, at: shown ? own.indexOf(shown) : at };
}
