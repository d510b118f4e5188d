/** What is asked of each kind of supply: its fields, how to measure each, and the way to the server's facts. No React. */
import type { Schemas } from "../../api/client";
import { askAbout, numberIn, numberText, readSigned } from "../../domain/numbers";
import {
  lengthNumber,
  readLength,
  readWeight,
  weightNumber,
  type UnitSystem,
} from "../../domain/units";
import { at, length, weight, type Facts, type FieldOf, type Typed } from "./supplyField";
import { AGAINST_WEATHER, servesOf, tidyInsert } from "./thermalFields";

export type { FieldOf, Typed } from "./supplyField";

export type Item = Schemas["SupplyItem"];
export type Kind = Item["facts"]["kind"];
export const KIND_WORDS: Record<Kind, string> = {
  carton: "Carton",
  mailer: "Mailer",
  unit_box: "Box or tin for one piece",
  wrap: "Wrap",
  fill: "Fill",
  tape: "Tape or strip",
  insert: "Insert, card, label",
};

const PILE = "Ten in a pile, measured, and divided by ten.";
const TEN = "Ten on the scale, and divided by ten.";
const GRADES = [
  ["none", "shows nothing"],
  ["resistant", "hard to open unseen"],
  ["evident", "shows that it was opened"],
] as const;
const CLOSES = [
  ["flap", "a flap that is tucked in"],
  ["tabs", "tabs that lock"],
  ["strip", "a strip that glues"],
  ["perforation", "a strip, and a line to tear it open"],
] as const;
const BOND: readonly FieldOf[] = [
  {
    key: "full_strength_minutes",
    label: "Minutes until it holds fully",
    is: "number",
    whole: true,
    begins: "0",
    how: "Hot glue 60, double-sided 2880; 0: at once.",
  },
  {
    key: "weak_above_percent",
    label: "Weak when the air is damper than",
    is: "number",
    whole: true,
    unit: "%",
    optional: true,
    how: "Self-adhesive paper tape: about 65. Empty: damp does nothing to it.",
  },
];
const OLD_MARKS: FieldOf = { key: "old_marks", label: "Has old marks to cover", is: "tick" };
const CAUTION: FieldOf = {
  key: "caution",
  label: "Handled with care",
  is: "pick",
  optional: true,
  options: [
    ["", "nothing special"],
    ["hot_tool", "hot tool"],
    ["tension", "under tension"],
    ["blade", "cut with a blade"],
  ],
};
export const MATERIAL: FieldOf = {
  key: "material",
  label: "Made of",
  is: "pick",
  optional: true,
  options: [
    ["", "paper or board"],
    ["card", "card"],
    ["plant", "plants, starch"],
    ["textile", "textile"],
    ["wood", "wood"],
    ["glass", "glass"],
    ["metal", "metal"],
    ["plastic", "plastic"],
    ["foam", "foam"],
  ],
};

export const FIELDS: Record<Kind, readonly FieldOf[]> = {
  carton: [
    length("inner.length_um", "Length inside", { how: "Inside, the longest side." }),
    length("inner.width_um", "Width inside"),
    length("inner.height_um", "Height inside", { how: "From the floor to the folded flaps." }),
    {
      key: "board",
      label: "Board",
      is: "pick",
      begins: "single",
      options: [
        ["single", "single wall"],
        ["double", "double wall"],
        ["none", "thin, no flutes"],
      ],
    },
    weight("tare_mg", "Weight empty", { optional: true, how: TEN }),
    weight("max_load_mg", "Takes at most", {
      optional: true,
      how: "What its maker says; else the estimate.",
    }),
    length("cut.lowest_um", "Can be cut down to", {
      optional: true,
      how: "The lowest height inside; empty: it is not cut.",
    }),
    { key: "cut.minutes", label: "Minutes to cut it", is: "number", optional: true },
    {
      key: "closes",
      label: "Closes by itself",
      is: "pick",
      optional: true,
      options: [["", "no, with tape"], ...CLOSES],
    },
    ...BOND,
    OLD_MARKS,
  ],
  mailer: [
    length("flat_length_um", "Length inside, flat", { how: "Laid flat, flap open." }),
    length("flat_width_um", "Width inside, flat"),
    length("seal_um", "The flap takes", {
      begins: "40 mm",
      how: "What sealing takes off the length.",
    }),
    length("wall_um", "Thickness of a wall", { how: PILE }),
    weight("tare_mg", "Weight empty", { how: TEN }),
    weight("max_load_mg", "Takes at most"),
    { key: "closes", label: "Closes by", is: "pick", begins: "strip", options: CLOSES },
    ...BOND,
    { key: "halves", label: "May be cut in two", is: "tick" },
    OLD_MARKS,
  ],
  unit_box: [
    length("inner.length_um", "Length inside"),
    length("inner.width_um", "Width inside"),
    length("inner.height_um", "Height inside"),
    length("outer.length_um", "Length outside"),
    length("outer.width_um", "Width outside"),
    length("outer.height_um", "Height outside"),
    weight("tare_mg", "Weight empty", { how: TEN }),
  ],
  wrap: [
    length("roll_width_um", "Width of the roll", {
      optional: true,
      how: "Empty when it comes in sheets.",
    }),
    length("sheet_um.0", "Or sheets: length", { optional: true }),
    length("sheet_um.1", "Sheets: width", { optional: true }),
    length("thickness_um", "Thickness", { how: PILE }),
    {
      key: "mg_per_m2",
      label: "Weight of its area",
      is: "number",
      unit: "g/m²",
      times: 1000,
      imperial: { unit: "oz/sq ft", times: 28_349.523125 / 0.09290304 },
      how: "A large square on the scale, divided by its area.",
    },
    { key: "food_contact", label: "May touch food", is: "tick" },
    CAUTION,
  ],
  fill: [
    {
      key: "packing_factor",
      label: "Loose stock for one of void",
      is: "number",
      begins: "1",
      how: "It is pressed together: paper 1.0, peanuts 1.15, shred 1.3.",
    },
    {
      key: "packed_mg_per_l",
      label: "Weight when packed",
      is: "number",
      unit: "g/l",
      times: 1000,
      imperial: { unit: "oz/cu ft", times: 28_349.523125 / 28.316847 },
      how: "Fill a box of known volume as you pack, weigh it, divide.",
    },
    length("bulge_um", "Pushes the carton out by", {
      begins: "5 mm",
      how: "Measure a packed carton across its middle, less its size.",
    }),
    {
      key: "measure.unit",
      label: "Taken by",
      is: "pick",
      begins: "litre",
      options: [
        ["litre", "litre"],
        ["scoop", "scoop"],
        ["bag", "bag"],
        ["sheet", "sheet"],
        ["metre", "metre"],
        ["gram", "weight"],
      ],
    },
    {
      key: "measure.loose_l",
      label: "Loose stock in one of them",
      is: "number",
      unit: "l",
      imperial: { unit: "cu ft", times: 28.316847 },
      begins: "1",
    },
    weight("holds_mg", "Holds a piece of at most", { optional: true }),
    { key: "sinks", label: "Goods sink in it", is: "tick" },
    { key: "bursts", label: "May burst", is: "tick" },
  ],
  tape: [
    {
      key: "mg_per_m",
      label: "Weight of its length",
      is: "number",
      unit: "g/m",
      times: 1000,
      imperial: { unit: "oz/ft", times: 28_349.523125 / 0.3048 },
      how: "A long piece on the scale, divided by its length.",
    },
    { key: "grade", label: "Opening it", is: "pick", begins: "none", options: GRADES },
    ...BOND,
    CAUTION,
  ],
  insert: [
    weight("weight_mg", "Weight", { how: TEN }),
    length("thickness_um", "Thickness", { begins: "0", how: PILE }),
    CAUTION,
    ...AGAINST_WEATHER,
  ],
};

export const fieldsOfKind = (kind: Kind): readonly FieldOf[] => [...FIELDS[kind], MATERIAL];

/** Those of its fields that are asked, by what is typed so far. */
export const askedOf = (kind: Kind, typed: Typed): readonly FieldOf[] =>
  fieldsOfKind(kind).filter((field) => field.when?.(typed) ?? true);

const timesOf = (field: FieldOf & { is: "number" }, system: UnitSystem): number =>
  (system === "imperial" ? field.imperial?.times : undefined) ?? field.times ?? 1;

export const unitOf = (field: FieldOf & { is: "number" }, system: UnitSystem): string | undefined =>
  (system === "imperial" ? field.imperial?.unit : undefined) ?? field.unit;

/** One fact as its field shows it. */
function shown(field: FieldOf, value: unknown, system: UnitSystem): string {
  if (value === null || value === undefined || value === "") return "";
  if (field.is === "length") return lengthText(Number(value), system);
  if (field.is === "weight") return weightNumber(Number(value), system);
  if (field.is === "number")
    return String(Number((Number(value) / timesOf(field, system)).toFixed(4)));
  if (field.is === "tick") return value === true ? "yes" : "";
  return typeof value === "string" ? value : "";
}

/** Thin things need tenths of a millimetre, and hundredths of an inch. */
const lengthText = (um: number, system: UnitSystem): string =>
  system === "metric"
    ? String(um / 1000)
    : um % 2540 === 0
      ? lengthNumber(um, system)
      : String(Number((um / 25_400).toFixed(3)));

export function typedOf(
  supply: { facts: Item["facts"] } | null,
  kind: Kind,
  system: UnitSystem,
): Typed {
  return Object.fromEntries(
    fieldsOfKind(kind).map((field) => [
      field.key,
      field.key === "serves"
        ? servesOf(supply?.facts)
        : supply && !(field.when && (at(supply.facts, field.key) ?? null) === null)
          ? shown(field, at(supply.facts, field.key), system)
          : begins(field, system),
    ]),
  );
}

function begins(field: FieldOf, system: UnitSystem): string {
  if (field.begins === undefined) return "";
  if (field.is === "number") return shown(field, field.begins, system);
  const um = field.is === "length" ? readLength(field.begins, "metric") : null;
  return um === null ? field.begins : lengthText(um, system);
}

export interface Read {
  facts: Item["facts"];
  /** Nothing was typed there: the server's estimate stands in. */
  estimated: string[];
  faults: Record<string, string>;
}

/** What was typed as facts. What was not touched keeps its exact value: what is shown is rounded. */
export function factsOf(
  kind: Kind,
  typed: Typed,
  was: { facts: Item["facts"] } | null,
  system: UnitSystem,
  estimate: { tare_mg: number; max_load_mg: number } | null,
): Read {
  const before = was ? typedOf(was, kind, system) : {};
  const facts: Facts = was ? structuredClone(was.facts as unknown as Facts) : {};
  const faults: Record<string, string> = {};
  const estimated: string[] = [];
  const turned = kind === "insert" && servesOf(was?.facts) !== (typed.serves ?? "");
  for (const field of askedOf(kind, typed)) {
    const text = (typed[field.key] ?? "").trim();
    if (was && text === before[field.key] && !(turned && field.when)) continue;
    const { value, fault } = readField(field, text, system);
    if (fault) faults[field.key] = fault;
    const guess = value === null ? estimate?.[field.key as keyof typeof estimate] : undefined;
    if (guess !== undefined) estimated.push(field.key);
    put(facts, field.key, guess ?? value);
  }
  if (kind === "insert") facts.serves = typed.serves ?? "";
  tidy(kind, facts);
  return { facts: { ...facts, kind } as unknown as Item["facts"], estimated, faults };
}

function readField(
  field: FieldOf,
  text: string,
  system: UnitSystem,
): { value: unknown; fault?: string } {
  if (field.is === "tick") return { value: text === "yes" };
  if (field.is === "pick") return { value: text || null };
  if (text === "")
    return { value: null, ...(field.optional ? {} : { fault: "Something is needed here." }) };
  if (field.is === "number" && field.signed) {
    const read = readSigned(text);
    if (read.kind === "number") return { value: read.text };
    return { value: null, fault: read.kind === "ask" ? read.question : "A number, such as -18." };
  }
  if (field.is === "number") {
    const asked = askAbout(text);
    const number = numberIn(text);
    if (asked || number === null) return { value: null, fault: asked || "A number, such as 1.5." };
    const times = timesOf(field, system);
    if (field.whole) return { value: Math.round(number) };
    if (times === 1) return { value: numberText(text) };
    // Weights are whole milligrams, volumes exact decimals.
    return { value: field.times ? Math.round(number * times) : (number * times).toFixed(4) };
  }
  const value = field.is === "length" ? readLength(text, system) : readWeight(text, system);
  if (value !== null) return { value };
  const example = field.is === "length" ? "A length, such as 98 mm." : "A weight, such as 430 g.";
  return { value: null, fault: askAbout(text.replace(/[a-z ]+$/i, "")) || example };
}

function put(facts: Facts, key: string, value: unknown): void {
  const parts = key.split(".");
  let inside = facts;
  for (const part of parts.slice(0, -1)) {
    if (typeof inside[part] !== "object" || inside[part] === null) inside[part] = {};
    inside = inside[part] as Facts;
  }
  inside[parts.at(-1) ?? ""] = value;
}

/** Parts that go together, or not at all. */
function tidy(kind: Kind, facts: Facts): void {
  if (kind === "insert") tidyInsert(facts);
  if (kind === "carton") {
    const cut = facts.cut as Facts | null | undefined;
    if (!cut || cut.lowest_um === null || cut.lowest_um === undefined) facts.cut = null;
    else if (cut.minutes === null || cut.minutes === undefined) cut.minutes = "1";
  }
  if (kind === "wrap") {
    const sheet = facts.sheet_um as Facts | unknown[] | null | undefined;
    const sides = sheet ? [0, 1].map((side) => (sheet as Facts)[String(side)]) : [];
    facts.sheet_um =
      sides.length === 2 && sides.every((side) => typeof side === "number") ? sides : null;
  }
}

/** A code out of the name that nothing else has: "C-200-150-100", "TISSUE-WHITE". */
export function codeFor(kind: Kind, typed: Typed, name: string, taken: readonly string[]): string {
  const sides = ["inner.length_um", "inner.width_um", "inner.height_um"].map((key) =>
    (typed[key] ?? "").replace(/[^0-9.]/g, ""),
  );
  const plain =
    kind === "carton" && sides.every(Boolean)
      ? `C-${sides.join("-")}`
      : name
          .toUpperCase()
          .replace(/[^A-Z0-9]+/g, "-")
          .replace(/^-|-$/g, "");
  const base = plain.slice(0, 26);
  const known = new Set(taken.map((code) => code.toUpperCase()));
  for (let number = 1; ; number += 1) {
    const code = number === 1 ? base : `${base}-${number}`;
    if (!known.has(code) || !base) return code;
  }
}
