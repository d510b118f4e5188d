/** The question of Rates: what is typed, what is asked, and as an address that can be kept. No React. */
import type { Schemas } from "../../api/client";
import {
  formatWeight,
  lengthNumber,
  readSize,
  readWeight,
  type UnitSystem,
} from "../../domain/units";

export type Over = Schemas["CompareIn"]["over"];

export interface Question {
  size: string;
  weight: string;
  to: string;
  from: string;
  on: string;
  worth: string;
  over: Over;
}

export const OVERS: readonly Over[] = ["weight", "length", "width", "height"];

/** "ALM DM4 6" or "DM4 6": a country of two or three letters first, when it stands alone. */
export function readPlace(text: string, home: string): { country: string; postcode: string } {
  const match = /^\s*([A-Za-z]{2,3})(?:\s+(.*))?$/.exec(text);
  if (match?.[1] && (match[2] !== undefined || match[1].length === 3))
    return { country: match[1].toUpperCase(), postcode: (match[2] ?? "").trim() };
  return { country: home, postcode: text.trim() };
}

/** What is asked of the server, or which field cannot be read. */
export function asked(
  q: Question,
  system: UnitSystem,
  home: string,
): { body: Schemas["CompareIn"] } | { fault: "size" | "weight" | "to" } {
  const size = readSize(q.size, system),
    weight = readWeight(q.weight, system),
    to = readPlace(q.to, home);
  if (!size) return { fault: "size" };
  if (!weight) return { fault: "weight" };
  if (!/^[A-Z]{2,3}$/.test(to.country)) return { fault: "to" };
  return {
    body: {
      outer_um: size,
      gross_weight_mg: weight,
      destination: to,
      origin: q.from.trim() ? readPlace(q.from, home) : null,
      ship_on: q.on || null,
      over: q.over,
      rigid: true,
      goods: [],
      cover: Math.min(1_000_000, Math.ceil(Number(q.worth.replace(",", ".")) || 0)),
    },
  };
}

/** A parcel as the address of this screen: for "compare" elsewhere. */
export function addressOf(
  parcel: {
    outer_um: readonly [number, number, number];
    gross_mg: number;
    country: string;
    postcode: string;
  },
  system: UnitSystem,
): string {
  const params = new URLSearchParams({
    size: parcel.outer_um.map((um) => lengthNumber(um, system)).join(" x "),
    weight: formatWeight(parcel.gross_mg, system),
    to: `${parcel.country} ${parcel.postcode}`,
  });
  return `/rates?${params.toString()}`;
}

/** So much heavier or lighter, never nothing. */
export function heavier(text: string, by_mg: number, system: UnitSystem): string {
  const now = readWeight(text, system);
  return now === null ? text : formatWeight(Math.max(1000, now + by_mg), system);
}
