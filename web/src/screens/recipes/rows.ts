/** The grid of a recipe: which rows it has, what a cell shows, and what a typed text does to the band. No DOM. */
import type { Schemas } from "../../api/client";
import { formatLength, readLength, type UnitSystem } from "../../domain/units";
import { careRows } from "./rowsCare";
import { closingRows } from "./rowsClosing";
import { boxRows } from "./rowsBox";
import { wrapRows } from "./rowsWrap";

export type RecipeDoc = Schemas["RecipeFile"];
export type Band = Schemas["BandDoc"];
export type Supply = Schemas["SupplyOut"];

export interface Cell {
  text: string;
  raw: string;
}
export interface Option {
  value: string;
  text: string;
}
export interface Row {
  key: string;
  group: string;
  place: string;
  label: string;
  cell: (band: Band) => Cell;
  /** Return the changed band, or in words what is allowed. */
  set: (band: Band, text: string) => Band | string;
  options?: Option[];
  /** Rarely changed: shown when all rows are asked for, or when a band differs from the usual. */
  fine?: boolean;
  /** Which layer of wrap this row is about, for moving it. */
  layer?: number;
  /** Cancel out of a band. */
  clear?: (band: Band) => Band;
}

/** What every builder of rows needs to know. */
export interface RowMaker {
  doc: RecipeDoc;
  place: (code: string | null | undefined) => string;
  named: (code: string | null | undefined) => string;
  choices: (kinds: string[], none?: boolean) => Option[];
  length: (
    key: string,
    group: string,
    label: string,
    place: string,
    get: (band: Band) => number,
    put: (band: Band, um: number) => Band,
    fine?: boolean,
  ) => Row;
}

export const NONE = "none";
export const whole = (text: string, least: number, most: number): number | null =>
  /^\d{1,4}$/.test(text.trim()) && Number(text) >= least && Number(text) <= most
    ? Number(text)
    : null;
export const decimal = (text: string, most: number): string | null => {
  const plain = text.trim().replace(",", ".");
  return /^\d{1,3}(\.\d{1,2})?$/.test(plain) && Number(plain) <= most ? plain : null;
};
export const YES_NO: Option[] = [
  { value: "yes", text: "yes" },
  { value: "no", text: "no" },
];
export const yes = (value: boolean | null | undefined): Cell => ({
  text: value ? "yes" : "no",
  raw: value ? "yes" : "no",
});

export const bandName = (band: { first: number; last: number }): string =>
  band.first === band.last ? String(band.first) : `${band.first} to ${band.last}`;

/** What an insert does against heat and cold: "liner", "pack", or nothing. */
const servesAs = (one: Supply): string =>
  one.facts.kind !== "insert" ? "" : one.facts.liner ? "liner" : one.facts.pack ? "pack" : "";

/** Every row; ``all`` false leaves the rarely changed ones out unless a band uses them. */
export function rowsOf(doc: RecipeDoc, supplies: Supply[], system: UnitSystem, all = false): Row[] {
  const of = (code: string) => supplies.find((one) => one.code === code);
  const named = (code: string | null | undefined) => (code ? (of(code)?.name ?? code) : NONE);
  const make: RowMaker = {
    doc,
    named,
    place: (code) => {
      const found = code ? of(code) : undefined;
      return found ? `${found.shelf}${found.slot}` : "";
    },
    choices: (kinds, none = false) => [
      ...(none ? [{ value: NONE, text: NONE }] : []),
      ...supplies
        .filter((one) => kinds.includes(one.kind) || kinds.includes(servesAs(one)))
        .map((one) => ({
          value: one.code,
          text: `${one.code}  ${one.name}  ${one.shelf}${one.slot}`,
        })),
    ],
    length: (key, group, label, place, get, put, fine = false) => ({
      key,
      group,
      label,
      place,
      fine,
      cell: (band) => ({
        text: formatLength(get(band), system),
        raw: formatLength(get(band), system),
      }),
      set: (band, text) => {
        const um = readLength(text, system);
        return um === null || um > 200_000
          ? `a length from 0 to ${formatLength(200_000, system)}`
          : put(band, um);
      },
    }),
  };
  const rows = [...wrapRows(make), ...boxRows(make), ...careRows(make), ...closingRows(make)];
  return all ? rows : rows.filter((row) => !row.fine);
}
