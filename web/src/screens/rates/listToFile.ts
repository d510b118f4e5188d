/** A typed price list as the open file: what the import reads. No React. */
import { HOLDS } from "../products/fields";
import { numberText } from "../../domain/numbers";
import type { UnitSystem } from "../../domain/units";
import {
  coverRow,
  limitRow,
  markRow,
  placesText,
  Shown,
  sizeRow,
  taxRow,
  volumeRow,
  volumesOf,
} from "./listFromFile";
import { Reader, type Unread } from "./reader";
import { same, surchargeDoc } from "./surchargeToFile";
import {
  columnsFor,
  LIMITS,
  list,
  parts,
  text,
  type CoverRow,
  type Doc,
  type FileDoc,
  type LimitRow,
  type MarkRow,
  type MoreRow,
  type PackageRow,
  type ServiceRow,
  type SizeRow,
  type TypedList,
  type VolumeRow,
  type ZoneRow,
} from "./typedList";

export type { Unread } from "./reader";

/** The file without what was not given before and is empty now. */
function put(doc: Doc, key: string, value: unknown, nothing: unknown = null): void {
  const empty = value === null || value === "" || same(value, nothing);
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
  put(file, "holidays", parts(typed.holidays), []);
  const codes: string[] = [];
  file.services = typed.services.map((service, at) => {
    const code =
      text(service.was?.code) || unique(codeOf(service.name, `SERVICE-${at + 1}`), codes);
    codes.push(code);
    return serviceDoc(service, code, columnsFor(service, typed), reader);
  });
  const packages = typed.packages.map((one, at) => packageDoc(one, at, codes, reader));
  put(file, "packaging", packages, []);
  if (packages.length === 0 && !(typed.was && "packaging" in typed.was)) delete file.packaging;
  if (usesVersion2(file)) file.version = 2;
  return { file, unread: reader.unread };
}

/** What version 1 of the format did not have, by the part it stands in. */
const NEW_IN: Readonly<Record<string, readonly string[]>> = {
  "": ["holidays"],
  limits: ["sum_of_sides_um", "longest_min_um", "second_min_um", "thickness_min_um"],
  services: [
    "zone_rules",
    "least_billable_mg",
    "discount",
    "further",
    "taxes",
    "round_total",
    "delivers_to",
    "delivery_days",
  ],
  surcharges: [
    "sum_of_sides_above_um",
    "from_on",
    "until_on",
    "arrives_on_days",
    "each_mg",
    "of",
    "least",
    "most",
    "group",
    "tax_percent",
  ],
  extra_cover: ["tiers", "percent", "of", "least", "tax_percent"],
  volumetric: ["formats"],
};
const NEW_GOODS: ReadonlySet<string> = new Set(HOLDS);

/** Whether anything in a document needs version 2. */
export function usesVersion2(value: unknown, part = ""): boolean {
  if (Array.isArray(value))
    return (
      part === "volumetric" ||
      value.some((one) => (typeof one === "string" ? NEW_GOODS.has(one) : usesVersion2(one, part)))
    );
  if (value === null || typeof value !== "object") return false;
  return Object.entries(value as Doc).some(
    ([name, inner]) =>
      NEW_IN[part]?.includes(name) ||
      (name === "kind" && inner === "per_weight") ||
      usesVersion2(inner, name),
  );
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
  const found = parts(places);
  const ranges: [string, string][] = [];
  const prefixes: string[] = [];
  for (const part of found) {
    const ends = /^([^\s-]+)\s*(?:-|–|to)\s*([^\s-]+)$/.exec(part);
    if (ends?.[1] && ends[2]) ranges.push([ends[1], ends[2]]);
    else prefixes.push(part);
  }
  return found.length === 0 ? { prefixes: [""], ranges } : { prefixes, ranges };
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
  doc.limits = limitsDoc(row.limits, row.was?.limits as Doc | undefined, `${at}, `, reader);
  put(doc, "zone_rules", row.zones.map(zoneRule), []);
  put(doc, "default_zone", row.zones.length > 0 ? row.others.trim() || null : null);
  putVolumes(doc, row, at, reader);
  put(doc, "weight_round_mg", reader.weight(row.roundTo, `${at}, weights count in`), 1);
  put(doc, "weight_rounding", row.rounding, "up");
  put(doc, "least_billable_mg", reader.weight(row.least, `${at}, least weight billed`), 0);
  putPrices(doc, row, at, columns, reader);
  putSurcharges(doc, row, at, reader);
  put(doc, "cover_included", numberText(row.cover), "0");
  putCover(doc, row, at, reader);
  put(doc, "cover_excludes", row.excludes, []);
  put(doc, "refuses", row.refuses, []);
  put(doc, "tax_percent", numberText(row.tax), "0");
  putSums(doc, row);
  doc.days_moved = row.moved;
  put(doc, "delivery_days", row.handedOver, []);
  put(doc, "delivers_to", row.deliversTo, "door");
  doc.cut_off = row.cutOff.trim();
  put(doc, "tape_over_label", row.tape, "never");
  put(
    doc,
    "markings",
    row.marks.map((one) => markDoc(one, at, reader)),
    [],
  );
  put(doc, "claim_days", reader.whole(row.claim, `${at}, claims within`));
  return doc;
}

/** Taxes of other places, what is taken off, and how the sum is rounded. */
function putSums(doc: Doc, row: ServiceRow) {
  if (!same(list(row.was?.taxes).map(taxRow), row.taxes))
    put(
      doc,
      "taxes",
      row.taxes.map((one) => ({
        percent: numberText(one.percent),
        ...(one.countries.trim()
          ? { countries: parts(one.countries).map((country) => country.toUpperCase()) }
          : {}),
        ...(one.zones.trim() ? { zones: parts(one.zones) } : {}),
      })),
      [],
    );
  const discount = (row.was?.discount ?? null) as Doc | null;
  put(
    doc,
    "discount",
    row.discount.trim()
      ? {
          ...discount,
          percent: numberText(row.discount),
          ...(row.discountOf === "base" && !discount?.of ? {} : { of: row.discountOf }),
        }
      : null,
  );
  put(
    doc,
    "further",
    row.furtherPercent.trim() || row.furtherOff.trim()
      ? {
          ...(row.furtherPercent.trim() ? { percent: numberText(row.furtherPercent) } : {}),
          ...(row.furtherOff.trim() ? { off: numberText(row.furtherOff) } : {}),
        }
      : null,
  );
  const total = (row.was?.round_total ?? null) as Doc | null;
  put(
    doc,
    "round_total",
    row.totalTo.trim()
      ? {
          ...total,
          to: numberText(row.totalTo),
          ...(row.totalRounding === "nearest" && !total?.rounding
            ? {}
            : { rounding: row.totalRounding }),
        }
      : null,
  );
}

function limitsDoc(row: LimitRow, was: Doc | undefined, at: string, reader: Reader): Doc {
  if (was && same(limitRow(was, new Shown(reader.system)), row)) return was;
  const limits: Doc = { ...(was ?? {}) };
  for (const name of LIMITS)
    put(limits, name, reader.measure(name, row[name], `${at}${LIMIT_WORDS[name]}`));
  return limits;
}

/** What each limit is called, on screen and where it cannot be read. */
export const LIMIT_WORDS: Record<(typeof LIMITS)[number], string> = {
  max_mg: "heaviest",
  min_mg: "lightest",
  longest_um: "longest side",
  second_um: "second side",
  thickness_um: "thickness",
  girth_um: "girth",
  length_plus_girth_um: "length and girth",
  sum_of_sides_um: "sum of sides",
  volume_cm3: "volume",
  longest_min_um: "least longest side",
  second_min_um: "least second side",
  thickness_min_um: "least thickness",
};

function putVolumes(doc: Doc, row: ServiceRow, at: string, reader: Reader) {
  const shown = new Shown(reader.system);
  if (
    row.was &&
    same(
      volumesOf(row.was).map((one) => volumeRow(one, shown)),
      row.volumes,
    )
  )
    return;
  const made = row.volumes.map((one) => volumeDoc(one, at, reader));
  // One rule for all formats is written as version 1 writes it.
  const plain = made.length === 1 && !made[0]?.formats && !Array.isArray(row.was?.volumetric);
  put(doc, "volumetric", made.length === 0 ? null : plain ? made[0] : made);
}

function volumeDoc(row: VolumeRow, at: string, reader: Reader): Doc {
  const doc: Doc = {
    ...(row.was ?? {}),
    divisor_cm3_per_kg: reader.divisor(row.divisor, `${at}, divisor`),
  };
  put(doc, "round_up_um", reader.length(row.sides, `${at}, sides rounded to`), 10_000);
  if (doc.round_up_um === null) doc.round_up_um = 10_000;
  put(doc, "rounding", row.rounding, "up");
  put(doc, "above_cm3", reader.cubic(row.above, `${at}, volume counts above`), 0);
  if (doc.above_cm3 === null) doc.above_cm3 = 0;
  put(doc, "zones", parts(row.zones), []);
  put(doc, "formats", parts(row.formats), []);
  return doc;
}

const named = (row: ServiceRow) => row.sizes.length > 1 || (row.sizes[0]?.name ?? "").trim() !== "";

function putPrices(
  doc: Doc,
  row: ServiceRow,
  at: string,
  columns: readonly string[],
  reader: Reader,
) {
  if (!named(row)) {
    const size = row.sizes[0];
    if (size) doc.zones = zoneTables(size, list(row.was?.zones), at, columns, reader);
    delete doc.formats;
    return;
  }
  const codes: string[] = [];
  doc.formats = row.sizes.map((size, number) => {
    const code = text(size.was?.code) || unique(codeOf(size.name, `SIZE-${number + 1}`), codes);
    codes.push(code);
    const was = size.was?.code ? size.was : undefined;
    if (was && same(sizeRow(was, columns, new Shown(reader.system)), size)) return was;
    const where = `${at}, ${size.name || code}`;
    return {
      code,
      ...(was ?? {}),
      name: size.name.trim() || code,
      limits: limitsDoc(size.limits, was?.limits as Doc | undefined, `${where}, `, reader),
      zones: zoneTables(size, list(was?.zones), where, columns, reader),
    };
  });
  delete doc.zones;
}

function zoneTables(
  row: SizeRow,
  was: readonly Doc[],
  at: string,
  columns: readonly string[],
  reader: Reader,
): Doc[] {
  const ends = row.weights.map((typed) => reader.weight(typed, `${at}, weights`));
  const before = new Map(was.map((table) => [text(table.zone), table]));
  const tables: Doc[] = [];
  columns.forEach((zone, column) => {
    const old = before.get(zone);
    const days = () => reader.whole(row.days[column] ?? "", `${at}, days to ${zone}`) ?? 0;
    const more = row.more[column];
    if (more && Object.values(more).some((typed) => typed.trim())) {
      const increment = incrementDoc(more, old, `${at}, zone ${zone}`, reader);
      tables.push({ ...without(old, "steps"), zone, transit_days: days(), increment });
      return;
    }
    const steps = ends.flatMap((end, index): Doc[] => {
      const price = (row.cells[index]?.[column] ?? "").trim();
      if (end === null || price === "") return [];
      const found = list(old?.steps).find((step) => step.up_to_mg === end);
      return [{ ...(found ?? {}), up_to_mg: end, price: numberText(price) }];
    });
    if (steps.length === 0) return;
    tables.push({ ...without(old, "increment"), zone, transit_days: days(), steps });
  });
  // In the order they came in, new ones after them.
  const order = [...before.keys()];
  const place = (doc: Doc) => {
    const found = order.indexOf(text(doc.zone));
    return found === -1 ? order.length : found;
  };
  return tables.sort((a, b) => place(a) - place(b));
}

const without = (doc: Doc | undefined, key: string): Doc =>
  Object.fromEntries(Object.entries(doc ?? {}).filter(([name]) => name !== key));

function incrementDoc(row: MoreRow, old: Doc | undefined, at: string, reader: Reader): Doc {
  return {
    ...((old?.increment as Doc | undefined) ?? {}),
    first_mg: reader.weight(row.first, `${at}, base up to`),
    base: numberText(row.base),
    each_mg: reader.weight(row.each, `${at}, each more`),
    each: numberText(row.price),
    max_mg: reader.weight(row.most, `${at}, up to`),
  };
}

function putSurcharges(doc: Doc, row: ServiceRow, at: string, reader: Reader) {
  const taken: string[] = [];
  const made = row.surcharges.map((one) => {
    const code = text(one.was?.code) || unique(codeOf(one.name, "SURCHARGE"), taken);
    taken.push(code);
    return surchargeDoc(one, code, `${at}, surcharge ${one.name}`, reader);
  });
  put(doc, "surcharges", made, []);
}

function putCover(doc: Doc, row: ServiceRow, at: string, reader: Reader) {
  if (row.was && same(coverRow(row.was.extra_cover as Doc | undefined), row.more)) return;
  put(doc, "extra_cover", row.more.way === "none" ? null : coverDoc(row.more, at, reader));
}

/** Tiers between semicolons or line ends: an amount may have a comma. */
const tiersOf = (typed: string): string[] =>
  typed
    .split(/[;\n]+/)
    .map((tier) => tier.trim())
    .filter(Boolean);

function coverDoc(row: CoverRow, at: string, reader: Reader): Doc {
  const doc: Doc = { most: numberText(row.most) };
  if (row.way === "steps") {
    doc.each = numberText(row.each);
    doc.price = numberText(row.price);
  } else if (row.way === "tiers") {
    doc.tiers = tiersOf(row.tiers).map((tier) => {
      const [upTo, price] = tier.split(":").map((one) => one.trim());
      if (!upTo || !price)
        reader.wrong(`${at}, cover`, `“${tier}” is no tier. Write 100: 1.00; 500: 3.50.`);
      return { up_to: numberText(upTo ?? ""), price: numberText(price ?? "") };
    });
  } else {
    doc.percent = numberText(row.percent);
    if (row.of === "excess") doc.of = "excess";
    if (row.least.trim()) doc.least = numberText(row.least);
  }
  if (row.tax.trim()) doc.tax_percent = numberText(row.tax);
  return doc;
}

function markDoc(row: MarkRow, at: string, reader: Reader): Doc {
  if (row.was && same(markRow(row.was, new Shown(reader.system)), row)) return row.was;
  const doc: Doc = { text: row.text.trim() };
  if (row.goods.length > 0) doc.goods = row.goods;
  if (row.heavier.trim()) doc.weight_above_mg = reader.weight(row.heavier, `${at}, marking`);
  if (row.longer.trim()) doc.longest_above_um = reader.length(row.longer, `${at}, marking`);
  return doc;
}

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
