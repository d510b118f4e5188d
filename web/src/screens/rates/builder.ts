/**
 * A price list as it is typed, and the open file it makes: the same that import reads. What the screen does not show
 * (formats, increments, markings, refused goods) is kept as it came. No React.
 */
import type { Schemas } from "../../api/client";
import { numberText } from "../../domain/numbers";
import { readLength, readWeight, type UnitSystem } from "../../domain/units";

/** The file as JSON: fields that are not given are not there. */
export type FileDoc = Record<string, unknown>;
type Doc = Record<string, unknown>;

export interface ZoneRow {
  zone: string;
  country: string;
  /** Beginnings and ranges of postcodes, one after the other; empty: the whole country. */
  places: string;
  was: Doc | null;
}
export type Condition =
  | "always"
  | "zones"
  | "longest_above_um"
  | "second_above_um"
  | "length_plus_girth_above_um"
  | "girth_above_um"
  | "weight_above_mg"
  | "rigid"
  | "home"
  | "signature"
  | "kept";
export interface SurchargeRow {
  name: string;
  kind: "fixed" | "percent";
  amount: string;
  condition: Condition;
  value: string;
  was: Doc | null;
}
export interface ServiceRow {
  name: string;
  /** "up to" weights, one a row of the grid. */
  weights: string[];
  /** Prices: a row a weight, a column a zone; empty: none. */
  cells: string[][];
  /** Days on the road, a column a zone. */
  days: string[];
  longest: string;
  together: string;
  heaviest: string;
  divisor: string;
  surcharges: SurchargeRow[];
  cover: string;
  /** More cover, bought in steps: each so much for a price, up to the most. */
  coverEach: string;
  coverPrice: string;
  coverMost: string;
  tax: string;
  moved: number[];
  cutOff: string;
  tape: "over" | "edges" | "never";
  was: Doc | null;
}
export interface PackageRow {
  name: string;
  code: string;
  size: string;
  services: string[];
  price: string;
  heaviest: string;
  was: Doc | null;
}
export interface TypedList {
  carrier: string;
  version: string;
  validFrom: string;
  source: string;
  zones: ZoneRow[];
  /** The zone of every other place; empty: nothing goes there. */
  others: string;
  services: ServiceRow[];
  packages: PackageRow[];
  was: Doc | null;
  /** Weights and lengths that came from a file, by how they are shown: what is shown is rounded. */
  exact: Record<string, number>;
}

const text = (value: unknown): string =>
  value === null || value === undefined ? "" : String(value as string);
const list = (value: unknown): Doc[] => (Array.isArray(value) ? (value as Doc[]) : []);

// --- out of a file ---

const weightText = (mg: number, system: UnitSystem): string =>
  system === "imperial"
    ? mg >= 453_592 * 2
      ? `${Number((mg / 453_592.37).toFixed(3))} lb`
      : `${Number((mg / 28_349.523125).toFixed(2))} oz`
    : mg >= 1_000_000
      ? `${mg / 1_000_000} kg`
      : `${mg / 1000} g`;
const lengthText = (um: number, system: UnitSystem): string =>
  system === "imperial" ? `${Number((um / 25_400).toFixed(2))} in` : `${um / 10_000} cm`;

/** One cubic inch a pound. */
const CM3_PER_KG_OF_ONE = 16.387064 / 0.45359237;

class Shown {
  readonly exact: Record<string, number> = {};
  readonly system: UnitSystem;
  constructor(system: UnitSystem) {
    this.system = system;
  }
  weight(mg: unknown): string {
    return typeof mg === "number" ? this.#keep(weightText(mg, this.system), mg) : "";
  }
  length(um: unknown): string {
    return typeof um === "number" ? this.#keep(lengthText(um, this.system), um) : "";
  }
  /** cm³ a kg, or cubic inches a pound. */
  divisor(cm3PerKg: unknown): string {
    if (typeof cm3PerKg !== "number") return "";
    if (this.system === "metric") return String(cm3PerKg);
    const words = String(Math.round(cm3PerKg / CM3_PER_KG_OF_ONE));
    this.exact[`divisor ${words}`] = cm3PerKg;
    return words;
  }
  #keep(words: string, value: number): string {
    this.exact[words] = value;
    return words;
  }
}

export const columnsOf = (typed: Pick<TypedList, "zones" | "others">): string[] => {
  const named = typed.zones.map((row) => row.zone.trim());
  return [...new Set([...named, typed.others.trim()])].filter(Boolean);
};

export function fromFile(file: FileDoc, system: UnitSystem): TypedList {
  const shown = new Shown(system);
  const zones = list(file.zone_rules).map((rule): ZoneRow => ({
    zone: text(rule.zone),
    country: text(rule.country),
    places: placesText(rule),
    was: rule,
  }));
  const others = text(file.default_zone);
  const columns = columnsOf({ zones, others });
  return {
    carrier: text(file.carrier_name),
    version: text(file.tariff_version),
    validFrom: text(file.valid_from),
    source: text(file.source),
    zones,
    others,
    services: list(file.services).map((service) => serviceRow(service, columns, shown)),
    packages: list(file.packaging).map((one) => packageRow(one, shown)),
    was: file,
    exact: shown.exact,
  };
}

function placesText(rule: Doc): string {
  const prefixes = (rule.prefixes as string[] | undefined) ?? [];
  const ranges = (rule.ranges as [string, string][] | undefined) ?? [];
  return [...prefixes.filter(Boolean), ...ranges.map(([first, last]) => `${first}-${last}`)].join(
    ", ",
  );
}

function serviceRow(service: Doc, columns: readonly string[], shown: Shown): ServiceRow {
  const tables = new Map(list(service.zones).map((table) => [text(table.zone), table]));
  const ends = new Set<number>();
  for (const table of tables.values())
    for (const step of list(table.steps)) ends.add(step.up_to_mg as number);
  const weights = [...ends].sort((a, b) => a - b);
  const priceAt = (zone: string, mg: number) =>
    text(list(tables.get(zone)?.steps).find((step) => step.up_to_mg === mg)?.price);
  const limits = (service.limits ?? {}) as Doc;
  const volumetric = service.volumetric as Doc | null | undefined;
  const extra = service.extra_cover as Doc | null | undefined;
  return {
    name: text(service.name),
    weights: weights.map((mg) => shown.weight(mg)),
    cells: weights.map((mg) => columns.map((zone) => priceAt(zone, mg))),
    days: columns.map((zone) => text(tables.get(zone)?.transit_days)),
    longest: shown.length(limits.longest_um),
    together: shown.length(limits.length_plus_girth_um),
    heaviest: shown.weight(limits.max_mg),
    divisor: shown.divisor(volumetric?.divisor_cm3_per_kg),
    surcharges: list(service.surcharges).map((one) => surchargeRow(one, shown)),
    cover: text(service.cover_included),
    coverEach: text(extra?.each),
    coverPrice: text(extra?.price),
    coverMost: text(extra?.most),
    tax: text(service.tax_percent),
    moved: (service.days_moved as number[] | undefined) ?? [],
    cutOff: text(service.cut_off),
    tape: (service.tape_over_label as ServiceRow["tape"] | undefined) ?? "never",
    was: service,
  };
}

const MEASURES = [
  "longest_above_um",
  "second_above_um",
  "length_plus_girth_above_um",
  "girth_above_um",
  "weight_above_mg",
] as const;
const PLAIN_SURCHARGE = new Set(["code", "name", "kind", "amount"]);

function surchargeRow(one: Doc, shown: Shown): SurchargeRow {
  const given = Object.keys(one).filter(
    (key) =>
      !PLAIN_SURCHARGE.has(key) && one[key] !== null && one[key] !== false && text(one[key]) !== "",
  );
  const [only] = given;
  const condition: Condition =
    given.length === 0
      ? "always"
      : given.length === 1 &&
          only !== undefined &&
          [...MEASURES, "zones", "rigid", "home", "signature"].includes(only)
        ? (only as Condition)
        : "kept";
  return {
    name: text(one.name),
    kind: one.kind === "percent" ? "percent" : "fixed",
    amount: text(one.amount),
    condition,
    value:
      condition === "zones"
        ? (one.zones as string[]).join(", ")
        : condition === "weight_above_mg"
          ? shown.weight(one[condition])
          : condition.endsWith("_um")
            ? shown.length(one[condition])
            : "",
    was: one,
  };
}

function packageRow(one: Doc, shown: Shown): PackageRow {
  const flat = one.flat_rate as Doc | null | undefined;
  const prices = list(flat?.prices);
  return {
    name: text(one.name),
    code: text(one.code),
    size: ((one.inner_um as number[] | undefined) ?? []).map((um) => shown.length(um)).join(" x "),
    services: (one.services as string[] | undefined) ?? [],
    price: prices.length === 1 ? text(prices[0]?.price) : "",
    heaviest: shown.weight(flat?.max_mg),
    was: one,
  };
}

// --- into a file ---

/** Something that cannot be read as it is typed: at which part of the screen, what. */
export interface Unread {
  at: string;
  words: string;
}

class Reader {
  readonly unread: Unread[] = [];
  readonly exact: Record<string, number>;
  readonly system: UnitSystem;
  constructor(exact: Record<string, number>, system: UnitSystem) {
    this.exact = exact;
    this.system = system;
  }
  weight(typed: string, at: string): number | null {
    return this.#read(
      typed,
      at,
      readWeight,
      this.system === "imperial" ? "12 oz" : "500 g or 2 kg",
    );
  }
  length(typed: string, at: string): number | null {
    return this.#read(typed, at, readLength, this.system === "imperial" ? "24 in" : "60 cm");
  }
  divisor(typed: string, at: string): number | null {
    const known = this.exact[`divisor ${typed.trim()}`];
    if (known !== undefined) return known;
    const found = this.whole(typed, at);
    return found === null || this.system === "metric"
      ? found
      : Math.round(found * CM3_PER_KG_OF_ONE);
  }
  whole(typed: string, at: string): number | null {
    const plain = typed.trim();
    if (plain === "") return null;
    if (/^\d{1,9}$/.test(plain)) return Number(plain);
    this.unread.push({ at, words: `“${plain}” is no whole number.` });
    return null;
  }
  #read(
    typed: string,
    at: string,
    read: (typed: string, system: UnitSystem) => number | null,
    example: string,
  ): number | null {
    const plain = typed.trim();
    if (plain === "") return null;
    const value = this.exact[plain] ?? read(plain, this.system);
    if (value === null)
      this.unread.push({ at, words: `“${plain}” cannot be read. Write ${example}.` });
    return value;
  }
}

/** The file without what was not given before and is empty now. */
function put(doc: Doc, key: string, value: unknown, nothing: unknown = null): void {
  const empty = value === null || value === "" || JSON.stringify(value) === JSON.stringify(nothing);
  if (empty && !(key in doc)) return;
  doc[key] = value === "" ? nothing : value;
}

export function toFile(typed: TypedList, system: UnitSystem): { file: FileDoc; unread: Unread[] } {
  const reader = new Reader(typed.exact, system);
  const file: FileDoc = {
    format: "calm-cupboard/tariff",
    version: 1,
    carrier: codeOf(typed.carrier, "CARRIER"),
    ...(typed.was ?? {}),
  };
  file.carrier_name = typed.carrier.trim();
  file.tariff_version = typed.version.trim();
  file.valid_from = typed.validFrom;
  put(file, "source", typed.source.trim(), "");
  file.zone_rules = typed.zones.map(zoneRule);
  put(file, "default_zone", typed.others.trim() || null);
  const columns = columnsOf(typed);
  const codes: string[] = [];
  file.services = typed.services.map((service, at) => {
    const code =
      text(service.was?.code) || unique(codeOf(service.name, `SERVICE-${at + 1}`), codes);
    codes.push(code);
    return serviceDoc(service, code, columns, reader);
  });
  const packages = typed.packages.map((one, at) => packageDoc(one, at, codes, reader));
  put(file, "packaging", packages, []);
  if (packages.length === 0 && !(typed.was && "packaging" in typed.was)) delete file.packaging;
  return { file, unread: reader.unread };
}

/** Codes keep to plain letters: "Hill Post" is "HILL-POST". */
export const codeOf = (name: string, otherwise: string): string =>
  name
    .toUpperCase()
    .replace(/[^A-Z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 26) || otherwise;

function unique(code: string, taken: readonly string[]): string {
  for (let number = 1; ; number += 1) {
    const one = number === 1 ? code : `${code}-${number}`;
    if (!taken.includes(one)) return one;
  }
}

/** Beginnings and ranges out of a pasted list: commas, semicolons, line breaks and tabs part them. */
export function readPlaces(places: string): { prefixes: string[]; ranges: [string, string][] } {
  const parts = places
    .split(/[,;\n\t]+/)
    .map((part) => part.trim())
    .filter(Boolean);
  const ranges: [string, string][] = [];
  const prefixes: string[] = [];
  for (const part of parts) {
    const ends = /^([^\s-]+)\s*(?:-|–|to)\s*([^\s-]+)$/.exec(part);
    if (ends?.[1] && ends[2]) ranges.push([ends[1], ends[2]]);
    else prefixes.push(part);
  }
  return parts.length === 0 ? { prefixes: [""], ranges } : { prefixes, ranges };
}

function zoneRule(row: ZoneRow): Doc {
  const rule: Doc = {
    ...(row.was ?? {}),
    zone: row.zone.trim(),
    country: row.country.trim().toUpperCase(),
  };
  if (row.was && placesText(row.was) === row.places) return rule;
  const { prefixes, ranges } = readPlaces(row.places);
  delete rule.prefixes;
  delete rule.ranges;
  if (prefixes.length > 0) rule.prefixes = prefixes;
  if (ranges.length > 0) rule.ranges = ranges;
  return rule;
}

function serviceDoc(
  row: ServiceRow,
  code: string,
  columns: readonly string[],
  reader: Reader,
): Doc {
  const at = row.name || code;
  const doc: Doc = { code, ...(row.was ?? {}), name: row.name.trim() };
  const limits: Doc = { ...((row.was?.limits as Doc | undefined) ?? {}) };
  put(limits, "longest_um", reader.length(row.longest, `${at}, longest side`));
  put(limits, "length_plus_girth_um", reader.length(row.together, `${at}, length and girth`));
  put(limits, "max_mg", reader.weight(row.heaviest, `${at}, most weight`));
  doc.limits = limits;
  const divisor = reader.divisor(row.divisor, `${at}, divisor`);
  const volumetric = row.was?.volumetric as Doc | null | undefined;
  put(
    doc,
    "volumetric",
    divisor === null ? null : { ...(volumetric ?? {}), divisor_cm3_per_kg: divisor },
  );
  if (!row.was?.formats || list(row.was.formats).length === 0)
    doc.zones = zoneTables(row, at, columns, reader);
  const taken: string[] = [];
  put(
    doc,
    "surcharges",
    row.surcharges.map((one) => surchargeDoc(one, at, taken, reader)),
    [],
  );
  put(doc, "cover_included", numberText(row.cover), "0");
  const more = [row.coverEach, row.coverPrice, row.coverMost].some((typed) => typed.trim());
  put(
    doc,
    "extra_cover",
    more
      ? {
          each: numberText(row.coverEach),
          price: numberText(row.coverPrice),
          most: numberText(row.coverMost),
        }
      : null,
  );
  put(doc, "tax_percent", numberText(row.tax), "0");
  doc.days_moved = row.moved;
  doc.cut_off = row.cutOff.trim();
  put(doc, "tape_over_label", row.tape, "never");
  return doc;
}

function zoneTables(
  row: ServiceRow,
  at: string,
  columns: readonly string[],
  reader: Reader,
): Doc[] {
  const ends = row.weights.map((typed) => reader.weight(typed, `${at}, weights`));
  const before = new Map(list(row.was?.zones).map((table) => [text(table.zone), table]));
  const tables: Doc[] = [];
  columns.forEach((zone, column) => {
    const was = before.get(zone);
    if (was?.increment) {
      tables.push(was);
      return;
    }
    const steps = ends.flatMap((end, index): Doc[] => {
      const price = (row.cells[index]?.[column] ?? "").trim();
      if (end === null || price === "") return [];
      const same = list(was?.steps).find((step) => step.up_to_mg === end);
      return [{ ...(same ?? {}), up_to_mg: end, price: numberText(price) }];
    });
    if (steps.length === 0) return;
    const days = reader.whole(row.days[column] ?? "", `${at}, days to ${zone}`);
    tables.push({ ...(was ?? {}), zone, transit_days: days ?? 0, steps });
  });
  // In the order they came in, new ones after them.
  const order = [...before.keys()];
  const place = (doc: Doc) => {
    const found = order.indexOf(text(doc.zone));
    return found === -1 ? order.length : found;
  };
  return tables.sort((a, b) => place(a) - place(b));
}

function surchargeDoc(row: SurchargeRow, at: string, taken: string[], reader: Reader): Doc {
  const code = text(row.was?.code) || unique(codeOf(row.name, "SURCHARGE"), taken);
  taken.push(code);
  const where = `${at}, surcharge ${row.name}`;
  const base: Doc =
    row.condition === "kept" || row.was === null
      ? { ...(row.was ?? {}) }
      : sameCondition(row)
        ? { ...row.was }
        : {};
  const doc: Doc = {
    code,
    ...base,
    name: row.name.trim(),
    kind: row.kind,
    amount: numberText(row.amount),
  };
  if (row.condition === "zones")
    doc.zones = row.value
      .split(/[,;]+/)
      .map((zone) => zone.trim())
      .filter(Boolean);
  else if (row.condition === "weight_above_mg")
    doc[row.condition] = reader.weight(row.value, where);
  else if (row.condition.endsWith("_um")) doc[row.condition] = reader.length(row.value, where);
  else if (["rigid", "home", "signature"].includes(row.condition)) doc[row.condition] = true;
  return doc;
}

/** Whether it still asks what it asked when it came: then its other fields may stay. */
const sameCondition = (row: SurchargeRow): boolean =>
  row.was !== null && surchargeRow(row.was, new Shown("metric")).condition === row.condition;

function packageDoc(row: PackageRow, at: number, services: readonly string[], reader: Reader): Doc {
  const where = row.name || `package ${at + 1}`;
  const sides = row.size
    .replace(/(mm|cm|in|m)\s*$/, "")
    .split(/[x×]/)
    .map((side) => side.trim());
  const unit = /(mm|cm|in|m)\s*$/.exec(row.size)?.[1] ?? "";
  const doc: Doc = {
    code: row.code.trim() || codeOf(row.name, `PACKAGE-${at + 1}`),
    ...(row.was ?? {}),
    name: row.name.trim(),
    services: row.services.length > 0 ? row.services : [...services],
    inner_um: sides.map((side) => {
      const own = /[a-z]/.test(side) ? side : `${side} ${unit}`;
      return reader.length(own, `${where}, size`) ?? 0;
    }),
  };
  const heaviest = reader.weight(row.heaviest, `${where}, most weight`);
  const before = (row.was?.flat_rate as Doc | null | undefined) ?? null;
  if (row.price.trim() || before)
    doc.flat_rate = {
      ...(before ?? {}),
      max_mg: heaviest ?? 0,
      prices: row.price.trim()
        ? [{ ...list(before?.prices)[0], price: numberText(row.price) }]
        : before?.prices,
    };
  return doc;
}

// --- beginning, and changing the grid ---

export function newService(columns: number): ServiceRow {
  return {
    name: "",
    weights: ["1 kg", "2 kg", "5 kg", "10 kg"],
    cells: Array.from({ length: 4 }, () => Array<string>(columns).fill("")),
    days: Array<string>(columns).fill("2"),
    longest: "",
    together: "",
    heaviest: "",
    divisor: "",
    surcharges: [],
    cover: "",
    coverEach: "",
    coverPrice: "",
    coverMost: "",
    tax: "",
    moved: [0, 1, 2, 3, 4],
    cutOff: "16:00",
    tape: "never",
    was: null,
  };
}

export function newList(country: string, day: string, system: UnitSystem): TypedList {
  const service = newService(1);
  if (system === "imperial") service.weights = ["1 lb", "2 lb", "5 lb", "10 lb"];
  return {
    carrier: "",
    version: day,
    validFrom: day,
    source: "",
    zones: [{ zone: "1", country, places: "", was: null }],
    others: "",
    services: [service],
    packages: [],
    was: null,
    exact: {},
  };
}

/** The services with their grids' columns as the zones are now: prices go with the name of their zone. */
export function withColumns(services: ServiceRow[], before: string[], now: string[]): ServiceRow[] {
  if (before.join("\n") === now.join("\n")) return services;
  // A zone that is only renamed stands where it stood.
  const from = now.map((zone, at) =>
    before.includes(zone) ? before.indexOf(zone) : before.length === now.length ? at : -1,
  );
  const moved = (row: readonly string[], empty: string) => from.map((at) => row[at] ?? empty);
  return services.map((service) => ({
    ...service,
    cells: service.cells.map((row) => moved(row, "")),
    days: moved(service.days, "2"),
  }));
}

/** A block out of a spreadsheet put into the grid from a cell on; column -1 is the weights. The grid grows downwards. */
export function pasted(
  service: ServiceRow,
  row: number,
  column: number,
  block: string,
): ServiceRow {
  const lines = block
    .replace(/\r/g, "")
    .replace(/\n+$/, "")
    .split("\n")
    .map((line) => line.split("\t").map((cell) => cell.trim()));
  const wide = service.days.length;
  const weights = [...service.weights];
  const cells = service.cells.map((one) => [...one]);
  lines.forEach((line, down) => {
    const at = row + down;
    while (weights.length <= at) {
      weights.push("");
      cells.push(Array<string>(wide).fill(""));
    }
    line.forEach((cell, right) => {
      const to = column + right;
      if (to === -1) weights[at] = cell;
      else if (to < wide) (cells[at] ?? [])[to] = cell;
    });
  });
  return { ...service, weights, cells };
}

export type Fault = Schemas["Fault"];
