/** A product as a person types it, and back to what the server takes. No DOM. */
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { askAbout, numberText } from "../../domain/numbers";
import {
  lengthNumber,
  readLength,
  readWeight,
  weightNumber,
  type UnitSystem,
} from "../../domain/units";

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
/** What carriers ask about and nothing else tells. */
export const HOLDS = ["batteries", "liquids", "aerosols", "alcohol", "plants"] as const;
export const FRAGILITY_WORDS = {
  sturdy: "sturdy: a drop from the table does nothing",
  delicate: "delicate: a knock marks it",
  fragile: "fragile: a knock breaks it",
} satisfies Record<Shown["fragility"], string>;
export const STAND_WORDS = {
  upright: "upright only",
  any: "on any side",
  flat: "flat only",
  on_edge: "on its edge",
} satisfies Record<Shown["orientation"], string>;

/** Everything as it is typed: text, until it is read. */
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
  holds: (typeof HOLDS)[number][];
}

const plain = (value: number | null | undefined): string =>
  value === null || value === undefined ? "" : String(value);

export function fieldsOf(one: Shown | null, system: UnitSystem): Fields {
  const grams = (mg: number | null | undefined) =>
    mg === null || mg === undefined ? "" : weightNumber(mg, system);
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
    holds: one?.holds ?? [],
  };
}

const keys = <Key extends string>(words: Record<Key, string>) => Object.keys(words) as Key[];

/** A text read by ``read``, or the error said at its field. */
const read = <T>(reader: (typed: string) => T | undefined, words: string) =>
  z.string().transform((typed, context): T => {
    const value = reader(typed.trim());
    if (value === undefined) context.addIssue({ code: "custom", message: words });
    return value as T;
  });

const words = (typed: string) => typed.split(/\s+/).filter(Boolean);

const wholeNumber = () =>
  read<number | null>(
    (typed) => (typed === "" ? null : /^-?\d{1,4}$/.test(typed) ? Number(typed) : undefined),
    "A whole number",
  );

const amount = () =>
  z.string().transform((typed, context) => {
    const found = typed.trim() ? numberText(typed) : "0";
    const asked = askAbout(typed);
    if (asked) context.addIssue({ code: "custom", message: asked });
    else if (!/^\d{1,8}(\.\d{1,4})?$/.test(found))
      context.addIssue({ code: "custom", message: "An amount, such as 2.10" });
    return found;
  });

const contents = () =>
  read((typed) => {
    const found = words(typed).map((part) => /^(\S+)\*(\d{1,3})$/.exec(part));
    return found.some((match) => match === null)
      ? undefined
      : found.map((match) => ({ sku: match?.[1] ?? "", quantity: Number(match?.[2] ?? 0) }));
  }, "A sku, a star and a number, such as PRE-BLK*2");

/**
 * The form of a product: what is typed in, what the server takes out, every error at its field. What was not touched
 * keeps its exact micrometres and milligrams: what is shown is rounded.
 */
export function productSchema(
  system: UnitSystem,
  was: Shown | null,
): z.ZodType<ProductFile, Fields> {
  const before = was ? fieldsOf(was, system) : null;
  const kept = <T>(name: Exact, value: T | null | undefined, reader: (typed: string) => T | null) =>
    read<T | null>(
      (typed) =>
        typed === ""
          ? null
          : before && value !== undefined && typed === before[name]
            ? value
            : (reader(typed) ?? undefined),
      name in LENGTHS ? "A length, such as 98 mm" : "A weight, such as 430 g",
    );
  const length = (name: "length" | "width" | "height") =>
    kept(name, was?.size?.[`${name}_um`], (typed) => readLength(typed, system) || null);
  const weight = (name: "weight" | "spread" | "load", value: number | null | undefined) =>
    kept(name, value, (typed) => readWeight(typed, system));
  return z
    .object({
      sku: z
        .string()
        .trim()
        .regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,29}$/, "Letters, digits, dots and dashes; at most 30"),
      name: z.string().trim().min(1, "A name"),
      recipe: z.string(),
      shelf: z.string().trim(),
      length: length("length"),
      width: length("width"),
      height: length("height"),
      weight: weight("weight", was?.weight_mg),
      spread: weight("spread", was?.weight_spread_mg),
      cost: amount(),
      orientation: z.enum(keys(STAND_WORDS)),
      fragility: z.enum(keys(FRAGILITY_WORDS)),
      load: weight("load", was?.load_on_top_mg),
      delicate_place: z.string().trim(),
      lowest: wholeNumber(),
      highest: wholeNumber(),
      longest: wholeNumber(),
      keeps: wholeNumber(),
      not_with: z.string(),
      family: z.string().trim(),
      contents: contents(),
      flags: z.array(z.enum(FLAGS)),
      holds: z.array(z.enum(HOLDS)),
    })
    .superRefine((typed, context) => {
      const sides = ["length", "width", "height"] as const;
      if (sides.every((name) => typed[name] === null)) return;
      for (const name of sides)
        if (typed[name] === null)
          context.addIssue({ code: "custom", path: [name], message: "A length, such as 98 mm" });
    })
    .transform((typed): ProductFile => ({
      sku: typed.sku,
      name: typed.name,
      recipe: typed.recipe || null,
      shelf: typed.shelf,
      size:
        typed.length && typed.width && typed.height
          ? { length_um: typed.length, width_um: typed.width, height_um: typed.height }
          : null,
      weight_mg: typed.weight,
      weight_spread_mg: typed.spread ?? 0,
      goods_cost: typed.cost,
      orientation: typed.orientation,
      fragility: typed.fragility,
      load_on_top_mg: typed.load,
      delicate_place: typed.delicate_place,
      lowest_c: typed.lowest,
      highest_c: typed.highest,
      longest_days: typed.longest,
      keeps_days: typed.keeps,
      not_with: words(typed.not_with),
      family: typed.family,
      contents: typed.contents,
      holds: typed.holds,
      ...(Object.fromEntries(FLAGS.map((flag) => [flag, typed.flags.includes(flag)])) as Record<
        (typeof FLAGS)[number],
        boolean
      >),
    }));
}

const LENGTHS = { length: true, width: true, height: true };
type Exact = keyof typeof LENGTHS | "weight" | "spread" | "load";

/** Fields of the server's document that have another name in the form. */
const FIELD_OF: Record<string, keyof Fields> = {
  length_um: "length",
  width_um: "width",
  height_um: "height",
  size: "length",
  weight_mg: "weight",
  weight_spread_mg: "spread",
  goods_cost: "cost",
  load_on_top_mg: "load",
  lowest_c: "lowest",
  highest_c: "highest",
  longest_days: "longest",
  keeps_days: "keeps",
  quantity: "contents",
};
const NAMES = new Set<string>(Object.keys(fieldsOf(null, "metric")));

/** The field an error of the server belongs to: "product.size.length_um" is the length. */
export function fieldAt(path: string): keyof Fields | null {
  const parts = path.split(/[.[\]]+/).filter((part) => part && !/^\d+$/.test(part));
  for (const part of parts.reverse()) {
    const name = FIELD_OF[part] ?? part;
    if (NAMES.has(name)) return name as keyof Fields;
  }
  return null;
}
