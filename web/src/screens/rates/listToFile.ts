/** A typed price list as the open file: what the import reads. No React. */
import { numberText } from "../../domain/numbers";
import { readLength, readWeight, type UnitSystem } from "../../domain/units";
import { conditionOf, placesText } from "./listFromFile";
import {
  CM3_PER_KG_OF_ONE,
  columnsOf,
  list,
  text,
  type Doc,
  type FileDoc,
  type PackageRow,
  type ServiceRow,
  type SurchargeRow,
  type TypedList,
  type ZoneRow,
} from "./typedList";

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
      : // What it still asks as it came may keep its other fields.
        conditionOf(row.was) === row.condition
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
