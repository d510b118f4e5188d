/** Temperatures and ways in words and on a scale. No React. */
import { many } from "./words";

export type LegKind = "van" | "night" | "depot" | "waiting" | "doorstep";

export interface WayHour {
  begins: string;
  kind: LegKind;
  outside_c: number;
  inside_c: number;
  forecast: boolean;
}

export const LEG_WORDS: Record<LegKind, string> = {
  van: "van",
  night: "between depots",
  depot: "depot",
  waiting: "waiting in a depot",
  doorstep: "at the door",
};

/** "18 C", "64 F". */
export function degrees(celsius: number, imperial: boolean): string {
  return imperial ? `${Math.round((celsius * 9) / 5 + 32)} F` : `${Number(celsius.toFixed(1))} C`;
}

/** Parts of the way that follow each other in one kind of place: from hour to hour. */
export function legsOf(
  hours: readonly Pick<WayHour, "kind">[],
): { kind: LegKind; from: number; to: number }[] {
  const legs: { kind: LegKind; from: number; to: number }[] = [];
  hours.forEach((hour, at) => {
    const last = legs.at(-1);
    if (last?.kind === hour.kind) last.to = at + 1;
    else legs.push({ kind: hour.kind, from: at, to: at + 1 });
  });
  return legs;
}

/** The least and the most the strip shows, on round fives round everything that is drawn. */
export function spanOf(
  hours: readonly Pick<WayHour, "inside_c" | "outside_c">[],
  limits: readonly (number | null)[],
): [number, number] {
  const all = [
    ...hours.flatMap((hour) => [hour.inside_c, hour.outside_c]),
    ...limits.filter((one): one is number => one !== null),
  ];
  const low = Math.floor((Math.min(...all) - 1) / 5) * 5;
  const high = Math.ceil((Math.max(...all) + 1) / 5) * 5;
  return [low, high];
}

/** The moment of an hour as its own clock shows it: "2026-12-01T05:00:00+01:00" is 5. */
export const clockHour = (begins: string): number => Number(begins.slice(11, 13));

/** Hours at which the goods are outside their limits. */
export function outsideHours(
  hours: readonly Pick<WayHour, "inside_c">[],
  low: number | null,
  high: number | null,
): number {
  return hours.filter(
    (hour) =>
      (low !== null && hour.inside_c < low - 0.05) ||
      (high !== null && hour.inside_c > high + 0.05),
  ).length;
}

/** What the strip shows, in words. */
export function wayWords(
  hours: readonly WayHour[],
  low: number | null,
  high: number | null,
  imperial: boolean,
): string {
  if (hours.length === 0) return "No way is known.";
  const inside = hours.map((hour) => hour.inside_c);
  const outside = hours.map((hour) => hour.outside_c);
  const between = (of: readonly number[]) =>
    `${degrees(Math.min(...of), imperial)} to ${degrees(Math.max(...of), imperial)}`;
  const limits = [
    low === null ? "" : `at least ${degrees(low, imperial)}`,
    high === null ? "" : `at most ${degrees(high, imperial)}`,
  ].filter(Boolean);
  const out = outsideHours(hours, low, high);
  const legs = legsOf(hours)
    .map((leg) => `${LEG_WORDS[leg.kind]} ${leg.to - leg.from} h`)
    .join(", ");
  return [
    `${hours.length} hours: ${legs}.`,
    `Air ${between(outside)}, goods ${between(inside)}; they may be ${limits.join(" and ")}.`,
    out === 0 ? "They stay within." : `They are outside for ${many(out, "hour")}.`,
  ].join(" ");
}
