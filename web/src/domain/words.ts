/** Words for codes: plain, short, the same on every screen. No React. */

export const STATE_WORDS: Record<string, string> = { new: "new", held: "held", planned: "planned", bench: "at the bench", packed: "packed" };

export const PATTERN_WORDS: Record<string, string> = { centre: "centre strip", h: "H", cross: "cross" };

export const ENTRY_WORDS: Record<string, string> = {
  received: "put away", reclaimed: "reclaimed", used: "used", counted: "counted", spoiled: "spoiled", converted: "converted", corrected: "corrected",
};

export const STEP_WORDS: Record<string, string> = {
  gather: "Gather", check: "Look", wrap: "Wrap", pack: "Pack", prove: "Prove", close: "Close", weigh: "Weigh", label: "Label", hand_over: "Hand over",
};

export const SHELF_WORDS: Record<string, string> = { A: "Cartons and mailers", B: "Wraps", C: "Fill and closure", D: "Cards, slips, labels" };

export const goodsWords = (lines: { quantity: number; title: string }[]): string => lines.map((line) => `${line.quantity} ${line.title}`).join(", ");

export function dayWords(iso: string): string {
  return new Date(`${iso.slice(0, 10)}T12:00:00Z`).toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short", timeZone: "UTC" });
}
