/** A product as a person types it, and back to what the server takes. No DOM. */
import type { Schemas } from "../../api/client";
import { lengthNumber, readLength, type UnitSystem } from "../../domain/units";
import { askAbout, numberText } from "../../domain/numbers";

export type ProductFile = Schemas["ProductIn"]["product"];
type Shown = Schemas["ProductOut"];

export const FLAGS = [
  "food",
  "glass",
  "scented",
  "live",
  "frozen",
  "meltable",
  "restricted",
] as const;
export const FLAG_WORDS: Record<(typeof FLAGS)[number], string> = {
  food: "food",
  glass: "glass",
  scented: "scented",
  live: "live",
  frozen: "frozen",
  meltable: "melts",
  restricted: "restricted goods",
};
export const FRAGILITY_WORDS = {
  sturdy: "sturdy: a drop from the table does nothing",
  delicate: "delicate: a knock marks it",
  fragile: "fragile: a knock breaks it",
} as const;
export const STAND_WORDS = {
  upright: "upright only",
  any: "on any side",
  flat: "flat only",
  on_edge: "on its edge",
} as const;

export interface Fields {
  sku: string;
  name: string;
  recipe: string;
  shelf: string;
  length: string;
  width: string;
  height: string;
  weight: string;
  spread: string;
  cost: string;
  orientation: keyof typeof STAND_WORDS;
  fragility: keyof typeof FRAGILITY_WORDS;
  load: string;
  delicate_place: string;
  lowest: string;
  highest: string;
  longest: string;
  keeps: string;
  not_with: string;
  family: string;
  contents: string;
  flags: (typeof FLAGS)[number][];
}

const plain = (value: number | null | undefined): string =>
  value === null || value === undefined ? "" : String(value);
const grams = (mg: number | null | undefined): string =>
  mg === null || mg === undefined ? "" : String(mg / 1000);

export function fieldsOf(one: Shown | null, system: UnitSystem): Fields {
  const side = (um: number | undefined) => (um === undefined ? "" : lengthNumber(um, system));
  return {
    sku: one?.sku ?? "",
    name: one?.name ?? "",
    recipe: one?.recipe ?? "",
    shelf: one?.shelf ?? "",
    length: side(one?.size?.length_um),
    width: side(one?.size?.width_um),
    height: side(one?.size?.height_um),
    weight: grams(one?.weight_mg),
    spread: one ? grams(one.weight_spread_mg) : "",
    cost: one ? String(Number(one.goods_cost)) : "",
    orientation: one?.orientation ?? "upright",
    fragility: one?.fragility ?? "sturdy",
    load: grams(one?.load_on_top_mg),
    delicate_place: one?.delicate_place ?? "",
    lowest: plain(one?.lowest_c),
    highest: plain(one?.highest_c),
    longest: plain(one?.longest_days),
    keeps: plain(one?.keeps_days),
    not_with: one?.not_with.join(" ") ?? "",
    family: one?.family ?? "",
    contents: one?.contents.map((item) => `${item.sku}*${item.quantity}`).join(" ") ?? "",
    flags: one ? FLAGS.filter((flag) => one[flag]) : [],
  };
}

export type Faults = Partial<Record<keyof Fields, string>>;

/** Whole mg of "430 g", "0.43 kg", "430"; null when it is none of these. */
export function readWeight(text: string): number | null {
  const match = /^\s*(\d{1,7}(?:[.,]\d{1,3})?)\s*(g|kg)?\s*$/.exec(text);
  return match
    ? Math.round(
        Number((match[1] ?? "").replace(",", ".")) * (match[2] === "kg" ? 1_000_000 : 1000),
      )
    : null;
}

/** What the server takes, or every fault by its field. */
export function readFields(
  fields: Fields,
  system: UnitSystem,
  was: Shown | null,
): ProductFile | Faults {
  const faults: Faults = {};
  const length = (name: "length" | "width" | "height") => {
    const um = readLength(fields[name], system);
    if (um === null || um === 0) faults[name] = "A length, such as 98 mm";
    return um ?? 0;
  };
  // A side that was not touched keeps its exact micrometres: what is shown is rounded.
  const before = fieldsOf(was, system);
  const side = (name: "length" | "width" | "height") =>
    was?.size && fields[name] === before[name] ? was.size[`${name}_um`] : length(name);
  const weight = (name: "weight" | "spread" | "load", empty: number | null) => {
    if (fields[name].trim() === "") return empty;
    const mg = readWeight(fields[name]);
    if (mg === null) faults[name] = "A weight, such as 430 g";
    return mg;
  };
  const number = (name: "lowest" | "highest" | "longest" | "keeps") => {
    const text = fields[name].trim();
    if (text === "") return null;
    if (!/^-?\d{1,4}$/.test(text)) {
      faults[name] = "A whole number";
      return null;
    }
    return Number(text);
  };
  if (!/^[A-Za-z0-9][A-Za-z0-9._-]{0,29}$/.test(fields.sku.trim()))
    faults.sku = "Letters, digits, dots and dashes; at most 30";
  if (fields.name.trim() === "") faults.name = "A name";
  const sized =
    fields.length.trim() !== "" || fields.width.trim() !== "" || fields.height.trim() !== "";
  const size = sized
    ? { length_um: side("length"), width_um: side("width"), height_um: side("height") }
    : null;
  const contents = fields.contents
    .split(/\s+/)
    .filter(Boolean)
    .map((part) => {
      const match = /^(\S+)\*(\d{1,3})$/.exec(part);
      if (!match) faults.contents = "A sku, a star and a number, such as PRE-BLK*2";
      return { sku: match?.[1] ?? "", quantity: Number(match?.[2] ?? 0) };
    });
  const cost = fields.cost.trim() ? numberText(fields.cost) : "0";
  if (askAbout(fields.cost)) faults.cost = askAbout(fields.cost);
  else if (!/^\d{1,8}(\.\d{1,4})?$/.test(cost)) faults.cost = "An amount, such as 2.10";
  const found: ProductFile = {
    sku: fields.sku.trim(),
    name: fields.name.trim(),
    recipe: fields.recipe || null,
    shelf: fields.shelf.trim(),
    size,
    weight_mg: weight("weight", null),
    weight_spread_mg: weight("spread", 0) ?? 0,
    goods_cost: cost,
    orientation: fields.orientation,
    fragility: fields.fragility,
    load_on_top_mg: weight("load", null),
    delicate_place: fields.delicate_place.trim(),
    lowest_c: number("lowest"),
    highest_c: number("highest"),
    longest_days: number("longest"),
    keeps_days: number("keeps"),
    not_with: fields.not_with.split(/\s+/).filter(Boolean),
    family: fields.family.trim(),
    contents,
    ...(Object.fromEntries(FLAGS.map((flag) => [flag, fields.flags.includes(flag)])) as Record<
      (typeof FLAGS)[number],
      boolean
    >),
  };
  return Object.keys(faults).length > 0 ? faults : found;
}

export const isFaults = (value: ProductFile | Faults, fields: Fields): value is Faults =>
  !("goods_cost" in value) || !("sku" in value) || value.sku !== fields.sku.trim();
