/** Words for codes: plain, short, the same on every screen. No React. */

export const STATE_WORDS: Record<string, string> = { new: "new", held: "held", planned: "planned", bench: "at the bench", packed: "packed" };

export const PATTERN_WORDS: Record<string, string> = { centre: "centre strip", h: "H", cross: "cross" };

/** What holds the goods still: fill on every side, or their base alone with free air round the rest. */
export const SCHOOL_WORDS: Record<string, string> = { fill_tight: "fill all round", base_fixed: "base held, air round it" };

/** What an amount counts for, after the insert's name; once a parcel needs no words. */
export const PER_WORDS: Record<string, string> = { unit: ", each unit", group: ", each group", layer: ", each layer", product: ", each product" };

export const ENTRY_WORDS: Record<string, string> = {
  received: "put away", reclaimed: "reclaimed", used: "used", counted: "counted", spoiled: "spoiled", converted: "converted", corrected: "corrected",
};

export const STEP_WORDS: Record<string, string> = {
  gather: "Gather", check: "Look", wrap: "Wrap", pack: "Pack", prove: "Prove", close: "Close", weigh: "Weigh", label: "Label", hand_over: "Hand over",
};

export const SHELF_WORDS: Record<string, string> = { A: "Cartons and mailers", B: "Wraps", C: "Fill and closure", D: "Cards, slips, labels" };

export const goodsWords = (lines: { quantity: number; title: string }[]): string => lines.map((line) => `${line.quantity} ${line.title}`).join(", ");

interface NamedWay { container: string; key: string; cut_to_um: number | null; nested: { code: string } | null }

/** What names a way among the others when it is chosen; plans from before ways had keys go by their container. */
export const keyOf = (way: NamedWay): string => way.key || way.container;

/** "C-14 cut to 120 mm, C-08 inside" */
export const wayName = (way: NamedWay, length: (um: number) => string): string =>
  [way.cut_to_um === null ? way.container : `${way.container} cut to ${length(way.cut_to_um)}`, ...(way.nested ? [`${way.nested.code} inside`] : [])].join(", ");

export function dayWords(iso: string): string {
  return new Date(`${iso.slice(0, 10)}T12:00:00Z`).toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short", timeZone: "UTC" });
}
