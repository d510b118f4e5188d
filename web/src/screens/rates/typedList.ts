/**
 * A price list as it is typed. ``listFromFile`` reads one out of the open file, ``listToFile`` makes the file again. What
 * the screen does not show (formats, increments, markings, refused goods) is kept as it came. No React.
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

export const text = (value: unknown): string =>
  value === null || value === undefined ? "" : String(value as string);
export const list = (value: unknown): Doc[] => (Array.isArray(value) ? (value as Doc[]) : []);

/** One cubic inch a pound. */
export const CM3_PER_KG_OF_ONE = 16.387064 / 0.45359237;

export const columnsOf = (typed: Pick<TypedList, "zones" | "others">): string[] => {
  const named = typed.zones.map((row) => row.zone.trim());
  return [...new Set([...named, typed.others.trim()])].filter(Boolean);
};

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
