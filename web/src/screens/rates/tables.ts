/** A price list in words and rows. No React. */
import { SHORT_WEEKDAYS } from "../../domain/words";
import type { Schemas } from "../../api/client";

interface Format {
  length: (um: number) => string;
  weight: (mg: number) => string;
  cubic: (cm3: number) => string;
}

type Table = Schemas["ZoneTableDoc"];

/** Steps of all zones in one table: a row for each weight any zone has a step at; increments below. */
export function stepRows(zones: readonly Table[]): {
  steps: { up_to_mg: number; prices: (string | null)[] }[];
  increments: Schemas["IncrementDoc"][] | null;
} {
  const increments = zones.map((zone) => zone.increment ?? null);
  if (increments.length > 0 && increments.every((one) => one !== null)) {
    const all = increments as Schemas["IncrementDoc"][];
    const firsts = [...new Set(all.map((one) => one.first_mg))];
    return {
      steps: firsts.map((mg) => ({
        up_to_mg: mg,
        prices: all.map((one) => (one.first_mg === mg ? String(one.base) : null)),
      })),
      increments: all,
    };
  }
  const weights = [
    ...new Set(zones.flatMap((zone) => (zone.steps ?? []).map((step) => step.up_to_mg))),
  ].sort((a, b) => a - b);
  return {
    steps: weights.map((mg) => ({
      up_to_mg: mg,
      prices: zones.map((zone) => {
        const step = (zone.steps ?? []).find((one) => one.up_to_mg === mg);
        return step ? String(step.price) : null;
      }),
    })),
    increments: null,
  };
}

export function limitsOf(limits: Schemas["LimitsDoc"], format: Format): string[] {
  const lengths: [string, number | null | undefined][] = [
    ["longest side", limits.longest_um],
    ["second side", limits.second_um],
    ["thickness", limits.thickness_um],
    ["girth", limits.girth_um],
    ["length plus girth", limits.length_plus_girth_um],
  ];
  return [
    ...lengths.flatMap(([name, um]) => (um ? [`${name} ${format.length(um)}`] : [])),
    ...(limits.volume_cm3 ? [format.cubic(limits.volume_cm3)] : []),
    ...(limits.min_mg ? [`from ${format.weight(limits.min_mg)}`] : []),
    ...(limits.max_mg ? [`up to ${format.weight(limits.max_mg)}`] : []),
  ];
}

/** [0, 1, 2, 3, 4] -> "Mon to Fri"; [0, 2, 4] -> "Mon, Wed, Fri". */
export function daysWords(days: readonly number[]): string {
  const sorted = [...new Set(days)].sort((a, b) => a - b);
  const [first, last] = [sorted[0], sorted[sorted.length - 1]];
  if (
    first !== undefined &&
    last !== undefined &&
    sorted.length > 2 &&
    last - first === sorted.length - 1
  )
    return `${SHORT_WEEKDAYS[first]} to ${SHORT_WEEKDAYS[last]}`;
  return sorted.map((day) => SHORT_WEEKDAYS[day]).join(", ");
}
