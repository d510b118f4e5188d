/** The open file of a price list as it is typed. No React. */
import { SHORT_WEEKDAYS } from "../../domain/words";
import type { UnitSystem } from "../../domain/units";
import {
  CM3_PER_IN3,
  CM3_PER_KG_OF_ONE,
  CONDITIONS,
  columnsFor,
  LIMITS,
  list,
  noCover,
  noMore,
  text,
  type Condition,
  type ConditionRow,
  type CoverRow,
  type Doc,
  type FileDoc,
  type LimitRow,
  type MarkRow,
  type MoreRow,
  type PackageRow,
  type ServiceRow,
  type SizeRow,
  type SurchargeRow,
  type TaxRow,
  type TypedList,
  type VolumeRow,
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

/** Writes values as they are shown, and keeps what each stood for. */
export class Shown {
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
  /** cm³, or cubic inches. */
  cubic(cm3: unknown): string {
    if (typeof cm3 !== "number" || cm3 === 0) return "";
    if (this.system === "metric") return String(cm3);
    const words = String(Math.round(cm3 / CM3_PER_IN3));
    this.exact[`cubic ${words}`] = cm3;
    return words;
  }
  /** A measure by the ending of its name. */
  measure(name: string, value: unknown): string {
    if (name.endsWith("_mg")) return this.weight(value);
    return name.endsWith("_cm3") ? this.cubic(value) : this.length(value);
  }
  #keep(words: string, value: number): string {
    this.exact[words] = value;
    return words;
  }
}

export function fromFile(file: FileDoc, system: UnitSystem): TypedList {
  const shown = new Shown(system);
  const zones = list(file.zone_rules).map(zoneRow);
  const others = text(file.default_zone);
  return {
    carrier: text(file.carrier_name),
    version: text(file.tariff_version),
    validFrom: text(file.valid_from),
    source: text(file.source),
    zones,
    others,
    services: list(file.services).map((service) => serviceRow(service, { zones, others }, shown)),
    packages: list(file.packaging).map((one) => packageRow(one, shown)),
    holidays: words(file.holidays),
    was: file,
    exact: shown.exact,
  };
}

const words = (value: unknown): string => ((value as string[] | undefined) ?? []).join(", ");
const strings = (value: unknown): string[] => (value as string[] | undefined) ?? [];

export const zoneRow = (rule: Doc): ZoneRow => ({
  zone: text(rule.zone),
  country: text(rule.country),
  places: placesText(rule),
  was: rule,
});

export function placesText(rule: Doc): string {
  const prefixes = (rule.prefixes as string[] | undefined) ?? [];
  const ranges = (rule.ranges as [string, string][] | undefined) ?? [];
  return [...prefixes.filter(Boolean), ...ranges.map(([first, last]) => `${first}-${last}`)].join(
    ", ",
  );
}

function serviceRow(
  service: Doc,
  of: Pick<TypedList, "zones" | "others">,
  shown: Shown,
): ServiceRow {
  const own = {
    zones: list(service.zone_rules).map(zoneRow),
    others: text(service.default_zone),
  };
  const columns = columnsFor(own, of);
  const formats = list(service.formats);
  const discount = service.discount as Doc | null | undefined;
  const further = service.further as Doc | null | undefined;
  const total = service.round_total as Doc | null | undefined;
  return {
    name: text(service.name),
    sizes:
      formats.length > 0
        ? formats.map((one) => sizeRow(one, columns, shown))
        : [sizeRow({ zones: service.zones }, columns, shown)],
    limits: limitRow((service.limits ?? {}) as Doc, shown),
    volumes: volumesOf(service).map((one) => volumeRow(one, shown)),
    roundTo:
      service.weight_round_mg === undefined || service.weight_round_mg === 1
        ? ""
        : shown.weight(service.weight_round_mg),
    rounding: (service.weight_rounding as ServiceRow["rounding"] | undefined) ?? "up",
    least: service.least_billable_mg ? shown.weight(service.least_billable_mg) : "",
    surcharges: list(service.surcharges).map((one) => surchargeRow(one, shown)),
    cover: text(service.cover_included),
    more: coverRow(service.extra_cover as Doc | null | undefined),
    excludes: strings(service.cover_excludes),
    refuses: strings(service.refuses),
    tax: text(service.tax_percent),
    taxes: list(service.taxes).map(taxRow),
    discount: text(discount?.percent),
    discountOf: (discount?.of as ServiceRow["discountOf"] | undefined) ?? "base",
    furtherPercent: text(further?.percent),
    furtherOff: text(further?.off),
    totalTo: text(total?.to),
    totalRounding: (total?.rounding as ServiceRow["totalRounding"] | undefined) ?? "nearest",
    moved: (service.days_moved as number[] | undefined) ?? [],
    handedOver: (service.delivery_days as number[] | undefined) ?? [],
    deliversTo: (service.delivers_to as ServiceRow["deliversTo"] | undefined) ?? "door",
    cutOff: text(service.cut_off),
    tape: (service.tape_over_label as ServiceRow["tape"] | undefined) ?? "never",
    marks: list(service.markings).map((one) => markRow(one, shown)),
    claim: text(service.claim_days),
    ...own,
    was: service,
  };
}

/** One rule or several, as a list. */
export function volumesOf(service: Doc): Doc[] {
  if (Array.isArray(service.volumetric)) return service.volumetric as Doc[];
  return service.volumetric ? [service.volumetric as Doc] : [];
}

export const limitRow = (limits: Doc, shown: Shown): LimitRow =>
  Object.fromEntries(LIMITS.map((name) => [name, shown.measure(name, limits[name])])) as LimitRow;

export function sizeRow(one: Doc, columns: readonly string[], shown: Shown): SizeRow {
  const tables = new Map(list(one.zones).map((table) => [text(table.zone), table]));
  const ends = new Set<number>();
  for (const table of tables.values())
    for (const step of list(table.steps)) ends.add(step.up_to_mg as number);
  const weights = [...ends].sort((a, b) => a - b);
  const priceAt = (zone: string, mg: number) =>
    text(list(tables.get(zone)?.steps).find((step) => step.up_to_mg === mg)?.price);
  return {
    name: text(one.name),
    limits: limitRow((one.limits ?? {}) as Doc, shown),
    weights: weights.map((mg) => shown.weight(mg)),
    cells: weights.map((mg) => columns.map((zone) => priceAt(zone, mg))),
    days: columns.map((zone) => text(tables.get(zone)?.transit_days)),
    more: columns.map((zone) => moreRow(tables.get(zone)?.increment as Doc | undefined, shown)),
    was: one,
  };
}

function moreRow(one: Doc | null | undefined, shown: Shown): MoreRow {
  if (!one) return noMore();
  return {
    first: shown.weight(one.first_mg),
    base: text(one.base),
    each: shown.weight(one.each_mg),
    price: text(one.each),
    most: shown.weight(one.max_mg),
  };
}

export const volumeRow = (one: Doc, shown: Shown): VolumeRow => ({
  divisor: shown.divisor(one.divisor_cm3_per_kg),
  sides: shown.length(one.round_up_um),
  rounding: (one.rounding as VolumeRow["rounding"] | undefined) ?? "up",
  above: shown.cubic(one.above_cm3),
  zones: words(one.zones),
  formats: words(one.formats),
  was: one,
});

export const seasonText = (one: Doc): string =>
  [
    one.from_on ? `from ${text(one.from_on)}` : "",
    one.until_on ? `until ${text(one.until_on)}` : "",
  ]
    .filter(Boolean)
    .join(" ");

function conditionValue(what: Condition, one: Doc, shown: Shown): string | null {
  if (what === "season") return seasonText(one) || null;
  if (what === "places")
    return one.country ? [text(one.country), words(one.prefixes)].filter(Boolean).join(": ") : null;
  if (what === "arrives") {
    const days = (one.arrives_on_days as number[] | undefined) ?? [];
    return days.map((day) => SHORT_WEEKDAYS[day]).join(", ") || null;
  }
  if (what === "zones" || what === "formats" || what === "goods") return words(one[what]) || null;
  if (what === "rigid" || what === "home" || what === "signature") return one[what] ? "" : null;
  return shown.measure(what, one[what]) || null;
}

export function surchargeRow(one: Doc, shown: Shown): SurchargeRow {
  const conditions = CONDITIONS.flatMap((what): ConditionRow[] => {
    const value = conditionValue(what, one, shown);
    return value === null ? [] : [{ what, value }];
  });
  return {
    name: text(one.name),
    kind: one.kind as SurchargeRow["kind"],
    amount: text(one.amount),
    each: shown.weight(one.each_mg),
    of: (one.of as SurchargeRow["of"] | undefined) ?? "all",
    least: text(one.least),
    most: text(one.most),
    group: text(one.group),
    tax: text(one.tax_percent),
    conditions,
    was: one,
  };
}

export function coverRow(one: Doc | null | undefined): CoverRow {
  if (!one) return noCover();
  const tiers = list(one.tiers);
  const percent = text(one.percent);
  return {
    way: tiers.length > 0 ? "tiers" : percent ? "percent" : "steps",
    most: text(one.most),
    each: text(one.each),
    price: text(one.price),
    tiers: tiers.map((tier) => `${text(tier.up_to)}: ${text(tier.price)}`).join("; "),
    percent,
    of: (one.of as CoverRow["of"] | undefined) ?? "value",
    least: text(one.least),
    tax: text(one.tax_percent),
  };
}

export const taxRow = (one: Doc): TaxRow => ({
  percent: text(one.percent),
  countries: words(one.countries),
  zones: words(one.zones),
});

export const markRow = (one: Doc, shown: Shown): MarkRow => ({
  text: text(one.text),
  goods: strings(one.goods),
  heavier: shown.weight(one.weight_above_mg),
  longer: shown.length(one.longest_above_um),
  was: one,
});

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
