/** Words for codes: plain, short, the same on every screen. No React. */

export { dateWords, dayWords, momentWords } from "./figures";

/** "1 order", "2 orders": every count with its noun goes through here. */
export const many = (count: number, noun: string): string =>
  `${count} ${noun}${count === 1 ? "" : "s"}`;

/** As the server counts them: Monday is 0. */
export const WEEKDAYS = [
  "Monday",
  "Tuesday",
  "Wednesday",
  "Thursday",
  "Friday",
  "Saturday",
  "Sunday",
] as const;
export const SHORT_WEEKDAYS: readonly string[] = WEEKDAYS.map((day) => day.slice(0, 3));

export const STATE_WORDS: Record<string, string> = {
  new: "new",
  held: "held",
  planned: "planned",
  bench: "at the bench",
  packed: "packed",
  cancelled: "cancelled",
  joined: "joined to another",
};

export const PATTERN_WORDS: Record<string, string> = {
  centre: "centre strip",
  h: "H",
  cross: "cross",
};

/** What holds the goods still: fill on every side, or their base alone with free air round the rest. */
export const SCHOOL_WORDS: Record<string, string> = {
  fill_tight: "fill all round",
  base_fixed: "base held, air round it",
};

/** What an amount counts for, after the insert's name; once a parcel needs no words. */
export const PER_WORDS: Record<string, string> = {
  unit: ", each unit",
  group: ", each group",
  layer: ", each layer",
  product: ", each product",
};

export const ENTRY_WORDS: Record<string, string> = {
  received: "received",
  reclaimed: "reclaimed",
  used: "used",
  counted: "counted",
  spoiled: "spoiled",
  converted: "converted",
  corrected: "corrected",
};

export const STEP_WORDS: Record<string, string> = {
  print: "Print",
  gather: "Gather",
  check: "Check",
  out: "Take out",
  cut: "Cut",
  wrap: "Wrap",
  pack: "Pack",
  do: "Do",
  prove: "Test",
  close: "Close",
  prove_closed: "Test",
  weigh: "Weigh",
  label: "Label",
  hand_over: "Hand over",
};

export const SHELF_WORDS: Record<string, string> = {
  A: "Cartons and mailers",
  B: "Wraps",
  C: "Fill and closure",
  D: "Cards, slips, labels",
};

export const goodsWords = (lines: { quantity: number; title: string }[]): string =>
  lines.map((line) => `${line.quantity} ${line.title}`).join(", ");

interface NamedParcel {
  container: string;
  change: { words: string; cut_to_um: number | null } | null;
  nested: { code: string } | null;
  strapped?: { cartons: readonly { candidate: NamedParcel }[] } | null;
}

/** Lengths are shown in the workshop's own units; the other changes carry theirs in words. */
const changedName = (one: NamedParcel, length: (um: number) => string): string =>
  one.change === null
    ? one.container
    : one.change.cut_to_um === null
      ? `${one.container}, ${one.change.words}`
      : `${one.container} cut to ${length(one.change.cut_to_um)}`;

/** "C-14 cut to 120 mm, C-08 inside", or "C-14 strapped to C-08" */
export const parcelName = (one: NamedParcel, length: (um: number) => string): string =>
  one.strapped
    ? one.strapped.cartons
        .map((carton) => parcelName(carton.candidate, length))
        .join(" strapped to ")
    : [changedName(one, length), ...(one.nested ? [`${one.nested.code} inside`] : [])].join(", ");

/** Names of parcels; like ones are counted: "2 of C-14 and C-08" */
export function countedNames(names: readonly string[]): string {
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  const told = [...counts].map(([name, count]) => (count === 1 ? name : `${count} of ${name}`));
  return told.length === 1
    ? (told[0] ?? "")
    : `${told.slice(0, -1).join(", ")} and ${told.at(-1) ?? ""}`;
}

/** All parcels of a way. */
export const wayName = (
  way: { parcels: readonly { candidate: NamedParcel }[] },
  length: (um: number) => string,
): string => countedNames(way.parcels.map((one) => parcelName(one.candidate, length)));
