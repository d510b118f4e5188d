/** The open file of a price list as it is typed. No React. */
import type { UnitSystem } from "../../domain/units";
import {
  CM3_PER_KG_OF_ONE,
  columnsOf,
  list,
  text,
  type Condition,
  type Doc,
  type FileDoc,
  type PackageRow,
  type ServiceRow,
  type SurchargeRow,
  type TypedList,
  type ZoneRow,
} from "./typedList";

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

export function placesText(rule: Doc): string {
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

/** When a surcharge of a file is due, as the screen says it. */
export const conditionOf = (one: Doc): Condition =>
  surchargeRow(one, new Shown("metric")).condition;
