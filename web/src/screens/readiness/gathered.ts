/** What a product lacks, gathered over its order sizes. No DOM. */
import type { Schemas } from "../../api/client";
import { bandName } from "../recipes/rows";

type Row = Schemas["ProductReadiness"];
type Lack = Schemas["Lack"];

/** What is said once for many sizes stands once, with the sizes before it. */
export function gathered(row: Row): { sizes: string; lack: Lack }[] {
  const found = new Map<string, { sizes: string[]; lack: Lack }>();
  for (const size of row.sizes)
    for (const lack of size.lacks) {
      const had = found.get(lack.words) ?? { sizes: [], lack };
      if (size.first > 0) had.sizes.push(bandName(size));
      found.set(lack.words, had);
    }
  return [...found.values()]
    .sort((a, b) => Number(b.lack.stops) - Number(a.lack.stops))
    .map((one) => ({
      sizes: one.sizes.length === row.sizes.length ? "all sizes" : one.sizes.join(", "),
      lack: one.lack,
    }));
}
