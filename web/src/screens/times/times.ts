/** Hours, hand-overs and closures as they are typed and as they are sent. No React. */
import { z } from "zod";
import type { Schemas } from "../../api/client";

/** "9", "9:30", "0930" and "9.30" are times; what is none is told at its field. */
export function timeText(typed: string): string | null {
  const found = /^\s*(\d{1,2})(?:[:.h ]?(\d{2}))?\s*$/.exec(typed);
  if (!found) return null;
  const [hour, minute] = [Number(found[1]), Number(found[2] ?? "0")];
  if (hour > 23 || minute > 59) return null;
  return `${String(hour).padStart(2, "0")}:${String(minute).padStart(2, "0")}`;
}

const clock = z.string().transform((typed, context) => {
  const time = timeText(typed);
  if (time === null) {
    context.addIssue({ code: "custom", message: "A time such as 15:40." });
    return z.NEVER;
  }
  return time;
});
const weekdays = z
  .array(z.string())
  .min(1, "Choose a day.")
  .transform((days) => days.map(Number).sort((one, other) => one - other));
const whole = (words: string, most: number) =>
  z
    .string()
    .trim()
    .transform((typed, context) => {
      const value = typed === "" ? 0 : Number(typed);
      if (!/^\d*$/.test(typed) || value > most) {
        context.addIssue({ code: "custom", message: words });
        return z.NEVER;
      }
      return value;
    });

export const TIMES = z
  .object({
    hours: z.array(
      z.object({
        who: z.string().trim().min(1, "Who?").max(60),
        days: weekdays,
        begins: clock,
        ends: clock,
      }),
    ),
    hand_overs: z.array(
      z.object({
        id: z.number().nullable(),
        name: z.string().trim().min(1, "A name, such as: Larkline collects.").max(60),
        kind: z.enum(["collection", "trip"]),
        carriers: z.array(z.string()),
        days: weekdays,
        at: clock,
        way_minutes: whole("Whole minutes, one way.", 600),
        most_parcels: whole("A whole number, or empty.", 10_000),
        who: z.string().trim().max(60),
      }),
    ),
    closures: z.array(
      z.object({
        day: z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "Choose a day."),
        reason: z.string().trim().max(80),
      }),
    ),
  })
  .transform((typed): Schemas["TimesIn"] => ({
    hours: typed.hours,
    hand_overs: typed.hand_overs.map((one) => ({
      ...one,
      way_minutes: one.kind === "trip" ? one.way_minutes : 0,
      most_parcels: one.most_parcels || null,
      who: one.kind === "trip" ? one.who : "",
    })),
    closures: typed.closures,
  }));
export type TypedTimes = z.input<typeof TIMES>;

const short = (time: string) => time.slice(0, 5);
const asTexts = (days: readonly number[]) => days.map(String);

export function typedTimes(now: Schemas["TimesOut"]): TypedTimes {
  return {
    hours: now.hours.map((one) => ({
      who: one.who,
      days: asTexts(one.days),
      begins: short(one.begins),
      ends: short(one.ends),
    })),
    hand_overs: now.hand_overs.map(typedHandOver),
    closures: now.closures.map((one) => ({ day: one.day, reason: one.reason ?? "" })),
  };
}

export function typedHandOver(one: Schemas["HandOverTimeDoc"]): TypedTimes["hand_overs"][number] {
  return {
    id: one.id ?? null,
    name: one.name,
    kind: one.kind,
    carriers: one.carriers,
    days: asTexts(one.days),
    at: short(one.at),
    way_minutes: String(one.way_minutes ?? 0),
    most_parcels: one.most_parcels ? String(one.most_parcels) : "",
    who: one.who ?? "",
  };
}

/** "hours[2].ends" of the server is "hours.2.ends" of the form. */
export const fieldOfPath = (path: string): string => path.replace(/\[(\d+)\]/g, ".$1");
