/** Lengths, weights, money and quantities for people. No React, no rounding of what is stored. */

import { fixed, signed } from "./figures";
import { numberIn, numberText } from "./numbers";

export type UnitSystem = "metric" | "imperial";
export type StockUnit = "pieces" | "m2" | "l" | "m";

const UM_PER_IN = 25_400;
const MG_PER_OZ = 28_349.523125;
const L_PER_CUFT = 28.316847;
const M_PER_FT = 0.3048;
const N_PER_LBF = 4.4482216;

/** 323000 -> "323" (mm) or "12.7" (in), without the unit. */
export function lengthNumber(um: number, system: UnitSystem): string {
  return system === "imperial" ? fixed(um / UM_PER_IN, 1) : String(Math.round(um / 1000));
}

export const lengthUnit = (system: UnitSystem): string => (system === "imperial" ? "in" : "mm");

export function formatLength(um: number, system: UnitSystem): string {
  return `${lengthNumber(um, system)} ${lengthUnit(system)}`;
}

export function formatSize(
  size: { length_um: number; width_um: number; height_um: number },
  system: UnitSystem,
): string {
  return `${[size.length_um, size.width_um, size.height_um].map((um) => lengthNumber(um, system)).join(" x ")} ${lengthUnit(system)}`;
}

/** Whole g below 1 kg, kg with three places above; lb and 0.1 oz. */
export function formatWeight(mg: number, system: UnitSystem): string {
  if (system === "imperial") {
    const tenths = Math.round((Math.abs(mg) / MG_PER_OZ) * 10);
    const pounds = Math.floor(tenths / 160);
    const ounces = `${fixed((tenths % 160) / 10, 1)} oz`;
    return `${mg < 0 ? "-" : ""}${pounds ? `${pounds} lb ` : ""}${ounces}`;
  }
  const grams = Math.round(mg / 1000);
  return Math.abs(grams) < 1000 ? `${grams} g` : `${fixed(grams / 1000, 3)} kg`;
}

/** Money as the server wrote it, with its digits; amounts arrive as exact text. */
export function formatMoney(amount: string | number, digits = 2): string {
  return fixed(Number(amount), digits);
}

export function signedMoney(amount: string | number, digits = 2): string {
  return signed(Number(amount), digits);
}

const UNIT_WORDS: Record<UnitSystem, Record<StockUnit, string>> = {
  metric: { pieces: "", m2: "m²", l: "l", m: "m" },
  imperial: { pieces: "", m2: "sq ft", l: "cu ft", m: "ft" },
};

/** So many of a stock unit make one of the unit it is shown in. */
const SHOWN_IN: Record<UnitSystem, Record<StockUnit, number>> = {
  metric: { pieces: 1, m2: 1, l: 1, m: 1 },
  imperial: { pieces: 1, m2: M_PER_FT ** 2, l: L_PER_CUFT, m: M_PER_FT },
};

/** A stock quantity in the unit it is shown in. */
export const inStock = (quantity: string | number, unit: StockUnit, system: UnitSystem): number =>
  Number(quantity) / SHOWN_IN[system][unit];

/** What was typed in the shown unit as the server keeps it, six places; what is no number goes as it was typed. */
export function toStock(typed: string, unit: StockUnit, system: UnitSystem): string {
  const value = numberIn(typed);
  const factor = SHOWN_IN[system][unit];
  return value === null || factor === 1 ? numberText(typed) : fixed(value * factor, 6);
}

/** A kept number as it is edited, and what is kept of what was typed: untouched it is the same to the last digit. */
export interface Edited {
  shown: string;
  kept: (typed: string) => string;
}

const asEdited = (
  kept: string | number | null,
  factor: number,
  back: (typed: string) => string,
) => {
  const shown = kept === null ? "" : String(Number((Number(kept) * factor).toFixed(6)));
  return {
    shown,
    kept: (typed: string) =>
      kept !== null && typed.trim() === shown ? String(kept) : back(typed.trim() || "0"),
  };
};

/** An amount in stock, edited in the shown unit. */
export const editedAmount = (
  kept: string | number | null,
  unit: StockUnit,
  system: UnitSystem,
): Edited => asEdited(kept, inStock(1, unit, system), (typed) => toStock(typed, unit, system));

/** The price of one stock unit, edited as that of one shown unit. */
export function editedPrice(
  kept: string | number | null,
  unit: StockUnit,
  system: UnitSystem,
): Edited {
  const each = inStock(1, unit, system);
  return asEdited(kept, 1 / each, (typed) => {
    const price = numberIn(typed);
    return price === null || each === 1 ? numberText(typed) : fixed(price * each, 6);
  });
}

export const stockWord = (unit: StockUnit, system: UnitSystem): string =>
  unit === "pieces" ? "pieces" : UNIT_WORDS[system][unit];

/** "64", "88.5 m²", "1240 l": never more places than mean anything. */
export function formatQuantity(
  quantity: string | number,
  unit: StockUnit,
  system: UnitSystem,
): string {
  const value = inStock(quantity, unit, system);
  const places = unit === "pieces" ? 0 : Math.abs(value) >= 100 ? 0 : Math.abs(value) >= 10 ? 1 : 2;
  const text = fixed(value, places);
  return unit === "pieces" ? text : `${text} ${UNIT_WORDS[system][unit]}`;
}

/** The same, for a narrow slot: no places above ten. */
export function shortQuantity(
  quantity: string | number,
  unit: StockUnit,
  system: UnitSystem,
): string {
  const value = inStock(quantity, unit, system);
  const text = fixed(value, unit === "pieces" || Math.abs(value) >= 10 ? 0 : 1);
  return unit === "pieces" ? text : `${text} ${UNIT_WORDS[system][unit]}`;
}

/** The unit a weight is shown in, and so what a bare number typed there means. */
export function weightUnit(mg: number, system: UnitSystem): "g" | "kg" | "oz" | "lb" {
  if (system === "imperial") return mg >= 16 * MG_PER_OZ ? "lb" : "oz";
  return mg >= 1_000_000 ? "kg" : "g";
}

/** A volume to a tenth of a litre, or a hundredth of a cubic foot. */
export const formatVolume = (litres: number, system: UnitSystem): string =>
  system === "imperial" ? `${fixed(litres / L_PER_CUFT, 2)} cu ft` : `${fixed(litres, 1)} l`;

/** Cubic centimetres, or cubic inches. */
export const formatCubic = (cm3: number, system: UnitSystem): string =>
  system === "imperial" ? `${Math.round(cm3 / 16.387064)} cu in` : `${cm3} cm³`;

/** What a volume is divided by to count as weight: cm³ per kg, or cubic inches per lb. */
export const formatDivisor = (cm3PerKg: number, system: UnitSystem): string =>
  system === "imperial"
    ? `${Math.round((cm3PerKg * 0.45359237) / 16.387064)} cu in per lb`
    : `${cm3PerKg} cm³ per kg`;

/** An amount of a working line by its unit. */
export function formatAmount(
  value: string,
  unit: string,
  system: UnitSystem,
  digits: number,
): string {
  const number = Number(value);
  switch (unit) {
    case "um":
      return formatLength(number, system);
    case "mg":
      return formatWeight(number, system);
    case "money":
      return Math.abs(number) < 1 && number !== 0
        ? fixed(number, Math.max(digits, 4))
        : fixed(number, digits);
    case "l":
      return system === "imperial"
        ? `${fixed(number / L_PER_CUFT, 2)} cu ft`
        : `${fixed(number, 2)} l`;
    case "m2":
      return system === "imperial"
        ? `${fixed(number / M_PER_FT ** 2, 2)} sq ft`
        : `${fixed(number, 3)} m²`;
    case "m":
      return system === "imperial" ? `${fixed(number / M_PER_FT, 1)} ft` : `${fixed(number, 2)} m`;
    case "N":
      return system === "imperial"
        ? `${fixed(number / N_PER_LBF, 0)} lbf`
        : `${fixed(number, 0)} N`;
    case "percent":
      return `${fixed(number, 1)} %`;
    case "minutes":
      return `${number} min`;
    default:
      return String(number);
  }
}

/** Text of a length field to whole um, or null: the server checks again. A bare number is mm (or in). */
export function readLength(text: string, system: UnitSystem): number | null {
  const match = /^\s*([\d.,]+|(?:\d+\s+)?\d+\/\d+)\s*(mm|cm|m|in)?\s*$/.exec(text);
  const number = match ? (fraction(match[1] ?? "") ?? numberIn(match[1] ?? "")) : null;
  if (!match || number === null) return null;
  const factor =
    { mm: 1000, cm: 10_000, m: 1_000_000, in: UM_PER_IN }[match[2] ?? lengthUnit(system)] ?? 1000;
  return Math.round(number * factor);
}

/** "8 1/2" and "1/4" as people read them off a rule; null when it is none. */
function fraction(text: string): number | null {
  const match = /^(?:(\d+)\s+)?(\d+)\/([1-9]\d*)$/.exec(text.trim());
  return match ? Number(match[1] ?? 0) + Number(match[2]) / Number(match[3]) : null;
}

/** "332 x 242 x 162 mm" to whole um, or null; bare numbers are mm (or in). */
export function readSize(text: string, system: UnitSystem): [number, number, number] | null {
  const unit = /(mm|cm|m|in)\s*$/.exec(text.trim())?.[1] ?? "";
  const parts = text
    .trim()
    .replace(/(mm|cm|m|in)\s*$/, "")
    .split(/[x×*]/i)
    .map((part) => readLength(`${part.trim()}${unit}`, system));
  const [length, width, height] = parts;
  return parts.length === 3 && length && width && height ? [length, width, height] : null;
}

/** What a weight field holds, without its unit: g, or oz. The one reader of weights reads it back. */
export const weightNumber = (mg: number, system: UnitSystem): string =>
  system === "imperial" ? fixed(mg / MG_PER_OZ, 0, 2) : fixed(mg / 1000, 0, 3);

export const weightFieldUnit = (system: UnitSystem): "g" | "oz" =>
  system === "imperial" ? "oz" : "g";

/** "2.84 kg", "840 g" or "1 lb 4 oz" to whole mg, or null; a bare number is g (or oz). */
export function readWeight(text: string, system: UnitSystem): number | null {
  const pounds = /^\s*(\d+)\s*lb\s*([\d.,]+)\s*oz\s*$/.exec(text);
  const ounces = pounds ? numberIn(pounds[2] ?? "") : null;
  if (pounds && ounces !== null) return Math.round((Number(pounds[1]) * 16 + ounces) * MG_PER_OZ);
  const match = /^\s*([\d.,]+)\s*(g|kg|oz|lb)?\s*$/.exec(text);
  const number = match ? numberIn(match[1] ?? "") : null;
  if (!match || number === null) return null;
  const factor =
    { g: 1000, kg: 1_000_000, oz: MG_PER_OZ, lb: MG_PER_OZ * 16 }[
      match[2] ?? (system === "imperial" ? "oz" : "g")
    ] ?? 1000;
  const mg = Math.round(number * factor);
  return mg;
}
