/**
 * A price list as it is typed. ``listFromFile`` reads one out of the open file, ``listToFile`` makes the file again; a part
 * that was not changed goes back as it came. No React.
 */
import type { UnitSystem } from "../../domain/units";

/** The file as JSON: fields that are not given are not there. */
export type FileDoc = Record<string, unknown>;
/** Any object within it. */
export type Doc = Record<string, unknown>;

export interface ZoneRow {
  zone: string;
  country: string;
  /** Beginnings and ranges of postcodes, one after the other; empty: the whole country. */
  places: string;
  was: Doc | null;
}

/** What may be limited, lengths and weights as they are typed; empty: no such limit. */
export const LIMITS = [
  "max_mg",
  "min_mg",
  "longest_um",
  "second_um",
  "thickness_um",
  "girth_um",
  "length_plus_girth_um",
  "sum_of_sides_um",
  "volume_cm3",
  "longest_min_um",
  "second_min_um",
  "thickness_min_um",
] as const;
export type LimitName = (typeof LIMITS)[number];
export type LimitRow = Record<LimitName, string>;

/** In place of steps: a base up to a weight, then so much for each more. */
export interface MoreRow {
  first: string;
  base: string;
  each: string;
  price: string;
  most: string;
}

/** Prices of one class of size; a service without classes has one, without a name. */
export interface SizeRow {
  name: string;
  limits: LimitRow;
  /** "up to" weights, one a row of the grid. */
  weights: string[];
  /** Prices: a row a weight, a column a zone; empty: none. */
  cells: string[][];
  /** Days on the road, a column a zone. */
  days: string[];
  /** A column a zone; all empty: its prices are steps. */
  more: MoreRow[];
  was: Doc | null;
}

/** How size becomes weight, in some zones and classes. */
export interface VolumeRow {
  divisor: string;
  sides: string;
  rounding: "up" | "nearest";
  above: string;
  zones: string;
  formats: string;
  was: Doc | null;
}

export const CONDITIONS = [
  "zones",
  "formats",
  "places",
  "season",
  "arrives",
  "goods",
  "weight_above_mg",
  "longest_above_um",
  "second_above_um",
  "thickness_above_um",
  "girth_above_um",
  "length_plus_girth_above_um",
  "sum_of_sides_above_um",
  "volume_above_cm3",
  "rigid",
  "home",
  "signature",
] as const;
export type Condition = (typeof CONDITIONS)[number];
export interface ConditionRow {
  what: Condition;
  value: string;
}
export interface SurchargeRow {
  name: string;
  kind: "fixed" | "percent" | "per_weight";
  amount: string;
  /** Of "per weight": for each so much. */
  each: string;
  /** Of "percent": of the base price, or of all. */
  of: "all" | "base";
  least: string;
  most: string;
  group: string;
  tax: string;
  conditions: ConditionRow[];
  was: Doc | null;
}

export interface CoverRow {
  way: "none" | "steps" | "tiers" | "percent";
  most: string;
  each: string;
  price: string;
  /** "100: 1.00; 500: 3.50" */
  tiers: string;
  percent: string;
  of: "value" | "excess";
  least: string;
  tax: string;
}

export interface TaxRow {
  percent: string;
  countries: string;
  zones: string;
}

export interface MarkRow {
  text: string;
  goods: string[];
  heavier: string;
  longer: string;
  was: Doc | null;
}

export interface ServiceRow {
  name: string;
  sizes: SizeRow[];
  limits: LimitRow;
  volumes: VolumeRow[];
  /** Weights count in steps of this; empty: as they are. */
  roundTo: string;
  rounding: "up" | "nearest";
  /** No parcel counts as less. */
  least: string;
  surcharges: SurchargeRow[];
  cover: string;
  more: CoverRow;
  excludes: string[];
  refuses: string[];
  tax: string;
  taxes: TaxRow[];
  discount: string;
  discountOf: "base" | "all";
  furtherPercent: string;
  furtherOff: string;
  totalTo: string;
  totalRounding: "up" | "nearest" | "down";
  moved: number[];
  /** Weekdays it is handed over on; none: those it moves on. */
  handedOver: number[];
  deliversTo: "door" | "locker" | "shop";
  cutOff: string;
  tape: "over" | "edges" | "never";
  marks: MarkRow[];
  claim: string;
  /** Zones of its own; none: those of the list. */
  zones: ZoneRow[];
  others: string;
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
  /** Days on which nothing moves, one after the other. */
  holidays: string;
  was: Doc | null;
  /** Weights and lengths that came from a file, by how they are shown: what is shown is rounded. */
  exact: Record<string, number>;
}

export const text = (value: unknown): string =>
  value === null || value === undefined ? "" : String(value as string);
export const list = (value: unknown): Doc[] => (Array.isArray(value) ? (value as Doc[]) : []);
/** Parts between commas, semicolons and line ends. */
export const parts = (typed: string): string[] =>
  typed
    .split(/[,;\n\t]+/)
    .map((part) => part.trim())
    .filter(Boolean);

/** One cubic inch a pound. */
export const CM3_PER_KG_OF_ONE = 16.387064 / 0.45359237;
export const CM3_PER_IN3 = 16.387064;

export const columnsOf = (typed: Pick<TypedList, "zones" | "others">): string[] => {
  const named = typed.zones.map((row) => row.zone.trim());
  return [...new Set([...named, typed.others.trim()])].filter(Boolean);
};

/** The zones a service's prices stand under: its own, or those of the list. */
export const columnsFor = (
  service: Pick<ServiceRow, "zones" | "others">,
  typed: Pick<TypedList, "zones" | "others">,
): string[] => (service.zones.length > 0 ? columnsOf(service) : columnsOf(typed));

export const noLimits = (): LimitRow =>
  Object.fromEntries(LIMITS.map((name) => [name, ""])) as LimitRow;
export const noMore = (): MoreRow => ({ first: "", base: "", each: "", price: "", most: "" });

export const newSize = (columns: number, name = ""): SizeRow => ({
  name,
  limits: noLimits(),
  weights: ["1 kg", "2 kg", "5 kg", "10 kg"],
  cells: Array.from({ length: 4 }, () => Array<string>(columns).fill("")),
  days: Array<string>(columns).fill("2"),
  more: Array.from({ length: columns }, noMore),
  was: null,
});

/** How weights and sides are rounded. */
export const ROUNDED = { up: "up", nearest: "to the nearest" };

export const newVolume = (): VolumeRow => ({
  divisor: "",
  sides: "",
  rounding: "up",
  above: "",
  zones: "",
  formats: "",
  was: null,
});

export const noCover = (): CoverRow => ({
  way: "none",
  most: "",
  each: "",
  price: "",
  tiers: "",
  percent: "",
  of: "value",
  least: "",
  tax: "",
});

export const newSurcharge = (): SurchargeRow => ({
  name: "",
  kind: "fixed",
  amount: "",
  each: "",
  of: "all",
  least: "",
  most: "",
  group: "",
  tax: "",
  conditions: [],
  was: null,
});

export function newService(columns: number): ServiceRow {
  return {
    name: "",
    sizes: [newSize(columns)],
    limits: noLimits(),
    volumes: [],
    roundTo: "",
    rounding: "up",
    least: "",
    surcharges: [],
    cover: "",
    more: noCover(),
    excludes: [],
    refuses: [],
    tax: "",
    taxes: [],
    discount: "",
    discountOf: "base",
    furtherPercent: "",
    furtherOff: "",
    totalTo: "",
    totalRounding: "nearest",
    moved: [0, 1, 2, 3, 4],
    handedOver: [],
    deliversTo: "door",
    cutOff: "16:00",
    tape: "never",
    marks: [],
    claim: "",
    zones: [],
    others: "",
    was: null,
  };
}

export function newList(country: string, day: string, system: UnitSystem): TypedList {
  const service = newService(1);
  if (system === "imperial" && service.sizes[0])
    service.sizes[0].weights = ["1 lb", "2 lb", "5 lb", "10 lb"];
  return {
    carrier: "",
    version: day,
    validFrom: day,
    source: "",
    zones: [{ zone: "1", country, places: "", was: null }],
    others: "",
    services: [service],
    packages: [],
    holidays: "",
    was: null,
    exact: {},
  };
}

/** Grids with their columns as the zones are now: prices go with the name of their zone. */
export function withColumns(sizes: SizeRow[], before: string[], now: string[]): SizeRow[] {
  if (before.join("\n") === now.join("\n")) return sizes;
  // A zone that is only renamed stands where it stood.
  const from = now.map((zone, at) =>
    before.includes(zone) ? before.indexOf(zone) : before.length === now.length ? at : -1,
  );
  const moved = (row: readonly string[], empty: string) => from.map((at) => row[at] ?? empty);
  return sizes.map((size) => ({
    ...size,
    cells: size.cells.map((row) => moved(row, "")),
    days: moved(size.days, "2"),
    more: from.map((at) => size.more[at] ?? noMore()),
  }));
}

/** A block out of a spreadsheet put into the grid from a cell on; column -1 is the weights. The grid grows downwards. */
export function pasted(size: SizeRow, row: number, column: number, block: string): SizeRow {
  const lines = block
    .replace(/\r/g, "")
    .replace(/\n+$/, "")
    .split("\n")
    .map((line) => line.split("\t").map((cell) => cell.trim()));
  const wide = size.days.length;
  const weights = [...size.weights];
  const cells = size.cells.map((one) => [...one]);
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
  return { ...size, weights, cells };
}
