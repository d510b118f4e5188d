/** What a code scanned at the bench means in the step at hand. No React. */
import type { Schemas } from "../../api/client";

export type Scanned = { does: "next" } | { does: "tell"; words: string };

/** A supply's or a product's own code in a step that takes it, or the parcel's label at the end, is "done". */
export function scannedAtStep(parcel: Schemas["ParcelOut"], at: number, code: string): Scanned {
  const step = parcel.steps[at];
  const same = (other: string) => other !== "" && other.toLowerCase() === code.toLowerCase();
  const own =
    same(parcel.order.number) || same(parcel.tracking) || same(parcel.label?.tracking ?? "");
  if (step?.kind === "hand_over")
    return own
      ? { does: "next" }
      : {
          does: "tell",
          words: `${code} is not this parcel's label: it is ${parcel.order.number}.`,
        };
  if (step?.takes.some((take) => same(take.code))) return { does: "next" };
  const elsewhere = parcel.steps.findIndex((one) => one.takes.some((take) => same(take.code)));
  if (own) return { does: "tell", words: "This parcel is on the table." };
  if (elsewhere >= 0)
    return { does: "tell", words: `${code} belongs to step ${elsewhere + 1}, not to this one.` };
  return { does: "tell", words: `${code} does not go into this parcel.` };
}
