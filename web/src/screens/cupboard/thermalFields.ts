/** What is asked of inserts that work against heat and cold: liners and packs. No React. */
import { at, length, type Facts, type FieldOf, type Typed } from "./supplyField";

/** What an insert does besides: nothing, it lines a carton, it is a pack of one of these kinds. */
const SERVES = [
  ["", "a card, label, sample"],
  ["liner", "a liner"],
  ["gel", "a gel pack"],
  ["bottle", "a frozen bottle"],
  ["phase_change", "a melting pack"],
  ["dry_ice", "dry ice"],
  ["heat", "a heat pack"],
] as const;
const isLiner = (typed: Typed) => typed.serves === "liner";
const isPack = (typed: Typed) => !["", "liner"].includes(typed.serves ?? "");
const isHeat = (typed: Typed) => typed.serves === "heat";
const isCold = (typed: Typed) => isPack(typed) && !isHeat(typed);
const melts = (typed: Typed) => ["phase_change", "dry_ice"].includes(typed.serves ?? "");
const tested = { optional: true, when: isLiner } as const;

export const AGAINST_WEATHER: readonly FieldOf[] = [
  { key: "serves", label: "It is", is: "pick", optional: true, options: SERVES },
  {
    key: "liner.conductivity_mw_per_mk",
    label: "Lets heat through, mW/mK",
    is: "number",
    whole: true,
    begins: "36",
    how: "Wool and foam 33 to 40, corrugated board 60. Its maker says it.",
    when: isLiner,
  },
  {
    key: "liner.tested_hours",
    label: "Ice test: hours to melt 1 kg",
    is: "number",
    unit: "h",
    how: "1 kg of ice in the closed, lined box, in a room of even warmth: when it is all water. It goes before the material.",
    ...tested,
  },
  {
    key: "liner.tested_room_c",
    label: "Ice test: the room was, C",
    is: "number",
    begins: "20",
    ...tested,
  },
  length("liner.tested_inner.length_um", "Ice test: length inside the liner", tested),
  length("liner.tested_inner.width_um", "Ice test: width inside", tested),
  length("liner.tested_inner.height_um", "Ice test: height inside", tested),
  length("pack.length_um", "Length", { when: isPack, how: "Lying flat, frozen: it swells." }),
  length("pack.width_um", "Width", { when: isPack }),
  {
    key: "pack.padded",
    label: "In a sleeve: it does not freeze what it touches",
    is: "tick",
    when: isCold,
  },
  {
    key: "pack.melts_c",
    label: "Melts at, C",
    is: "number",
    signed: true,
    begins: "0",
    how: "Its maker says it; dry ice -78.5.",
    when: melts,
  },
  {
    key: "pack.latent_j_per_g",
    label: "Takes up while it melts, J/g",
    is: "number",
    whole: true,
    begins: "334",
    how: "Gel and water 334, brine about 230, dry ice 571.",
    when: melts,
  },
  {
    key: "pack.start_c",
    label: "Comes out of the freezer at, C",
    is: "number",
    signed: true,
    begins: "-18",
    when: isCold,
  },
  {
    key: "pack.freeze_hours",
    label: "Hours until it is frozen hard",
    is: "number",
    unit: "h",
    begins: "12",
    how: "Freeze one and feel it every two hours; 0: it is bought frozen.",
    when: isCold,
  },
  {
    key: "pack.soak_minutes",
    label: "Soaked before, minutes",
    is: "number",
    whole: true,
    begins: "0",
    when: isCold,
  },
  {
    key: "pack.power_mw",
    label: "Gives, W",
    is: "number",
    times: 1000,
    begins: "1600",
    when: isHeat,
    how: "Its maker says it: small ones 1 to 2 W.",
  },
  { key: "pack.rated_hours", label: "For so many hours", is: "number", unit: "h", when: isHeat },
  {
    key: "pack.activate_minutes",
    label: "Opened before, minutes",
    is: "number",
    whole: true,
    begins: "20",
    when: isHeat,
  },
  length("pack.air_um", "Needs air of", { begins: "10 mm", when: isHeat }),
];

/** What an insert does, of its facts. */
export function servesOf(facts: unknown): string {
  if (at(facts, "liner")) return "liner";
  const kind = at(facts, "pack.kind");
  return typeof kind === "string" ? kind : "";
}

/** It lines, or it is a pack, or neither; an ice test is whole or none. */
export function tidyInsert(facts: Facts): void {
  const serves = String(facts.serves);
  delete facts.serves;
  if (serves === "liner") {
    facts.pack = null;
    const liner = facts.liner as Facts;
    const inner = liner.tested_inner as Facts | null | undefined;
    if (liner.tested_hours === null || !inner?.length_um || !inner.width_um || !inner.height_um) {
      delete liner.tested_hours;
      delete liner.tested_inner;
    }
    if (liner.tested_room_c === null) delete liner.tested_room_c;
  } else if (serves) {
    facts.liner = null;
    (facts.pack as Facts).kind = serves;
  } else {
    facts.liner = null;
    facts.pack = null;
  }
}
