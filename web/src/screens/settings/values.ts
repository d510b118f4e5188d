/** Settings as they are typed and shown, in the workshop's units. No React. */
import type { Schemas } from "../../api/client";
import { askAbout, numberIn, numberText, readSigned } from "../../domain/numbers";
import {
  lengthUnit,
  readLength,
  readWeight,
  weightFieldUnit,
  weightNumber,
  type UnitSystem,
} from "../../domain/units";

export type Setting = Schemas["SettingOut"];

export const GROUP_WORDS: Record<string, string> = {
  work: "Work",
  weight: "Weighing",
  risk: "Damage",
  packing: "Packing",
  outside: "Outside sizes",
  strength: "Stacking and lifting",
  care: "Heat and cold",
  recipes: "New recipes",
};

/** As its field shows it, without its unit. */
export function shownValue(
  setting: Pick<Setting, "kind">,
  value: string,
  system: UnitSystem,
): string {
  const number = Number(value);
  if (setting.kind === "length")
    return system === "imperial"
      ? String(Number((number / 25_400).toFixed(3)))
      : String(number / 1000);
  if (setting.kind === "weight") return weightNumber(number, system);
  if (setting.kind === "share") return String(Number((number * 100).toFixed(2)));
  return String(number);
}

export function unitOf(
  setting: Pick<Setting, "kind">,
  system: UnitSystem,
  currency: string,
): string {
  switch (setting.kind) {
    case "length":
      return lengthUnit(system);
    case "weight":
      return weightFieldUnit(system);
    case "share":
    case "percent":
      return "%";
    case "minutes":
      return "min";
    case "hours":
      return "h";
    case "degrees":
      return "C";
    case "money":
      return currency;
    default:
      return "";
  }
}

/** What was typed as the server keeps it; or what is wrong. What was not touched keeps its exact value. */
export function readValue(
  setting: Setting,
  typed: string,
  system: UnitSystem,
): { value: string } | { fault: string } {
  if (typed.trim() === shownValue(setting, setting.value, system)) return { value: setting.value };
  if (setting.kind === "degrees") {
    const read = readSigned(typed.replace(/\s*C\s*$/i, ""));
    return read.kind === "number"
      ? inside(setting, read.value, system, read.text)
      : { fault: read.kind === "ask" ? read.question : "A number of degrees, such as -12." };
  }
  const asked = askAbout(typed.replace(/\s*(mm|cm|m|in|g|kg|oz|lb|%)\s*$/, ""));
  if (typed.trim() === "") return { fault: "Something is needed here." };
  if (setting.kind === "length" || setting.kind === "weight") {
    const read = setting.kind === "length" ? readLength : readWeight;
    const value = read(typed, system);
    return value === null
      ? { fault: asked || "This cannot be read." }
      : inside(setting, value, system);
  }
  const number = numberIn(typed.replace(/\s*%\s*$/, ""));
  if (number === null) return { fault: asked || "A number." };
  return setting.kind === "share"
    ? inside(setting, Number((number / 100).toFixed(4)), system)
    : inside(setting, number, system, numberText(typed));
}

function inside(
  setting: Setting,
  value: number,
  system: UnitSystem,
  text = String(value),
): { value: string } | { fault: string } {
  const [least, most] = [Number(setting.least), Number(setting.most)];
  if (value >= least && value <= most) return { value: text };
  const ends = [setting.least, setting.most].map((end) => shownValue(setting, end, system));
  return { fault: `From ${ends.join(" to ")} ${unitOf(setting, system, "")}`.trim() };
}

export const isOrdinary = (setting: Setting): boolean =>
  Number(setting.value) === Number(setting.default);
