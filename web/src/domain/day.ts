/** The day in words and on a scale: the headline, times of the workshop's clock, what is late. No React. */
import { many, WEEKDAYS } from "./words";

/** Why a parcel is late; the server's codes. */
export type LateWhy = "over" | "nobody" | "not_ready" | "too_long" | "too_much" | "not_found";

/** One parcel of the day. Moments are seconds from the midnight of the workshop's clock. */
export interface DayParcel {
  key: string;
  order_id: number;
  parcel_id: number | null;
  number: string;
  buyer: string;
  part: number;
  parts: number;
  state: "planned" | "bench" | "closed" | "left";
  seconds: number;
  post: string | null;
  table: number | null;
  start_s: number | null;
  end_s: number | null;
  in_row: boolean;
  late: LateWhy | null;
  service_name: string;
  container: string;
  chosen: boolean;
}

/** A hand-over of the day and how it stands. */
export interface DayPost {
  key: string;
  name: string;
  kind: "collection" | "trip";
  assumed: boolean;
  at_s: number;
  due_s: number;
  begin_by_s: number | null;
  waiting: number;
  late: number;
  ready: number;
  left: number;
}

/** What the drawing and the headline need of the day. */
export interface DayShown {
  day: string;
  /** Else a later day is looked at ahead. */
  is_today: boolean;
  closed: boolean;
  outcome: "all" | "cannot" | "not_found";
  begin_by_s: number | null;
  seconds: number;
  people: readonly { who: string; spans: readonly (readonly number[])[] }[];
  posts: readonly DayPost[];
  parcels: readonly DayParcel[];
}

const DAY_S = 86_400;

/** "14:35", of seconds from midnight; of another day with the days between: "tomorrow 08:30". */
export function clockWords(at_s: number): string {
  const days = Math.floor(at_s / DAY_S);
  const minutes = Math.floor((at_s - days * DAY_S) / 60);
  const time = `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
  if (days === 0) return time;
  if (days === 1) return `tomorrow ${time}`;
  if (days === -1) return `yesterday ${time}`;
  return `${time} in ${days} days`;
}

/** "08:30", of a moment on whichever day. */
export const timeOfDay = (at_s: number): string => clockWords(((at_s % DAY_S) + DAY_S) % DAY_S);

/**
 * A moment with its weekday when it is not of the day that is looked at: "Sun 22:05". Always with it when that day is
 * not today: a bare time would be read as today's.
 */
export function momentOf(day: string, at_s: number, isToday = true): string {
  const days = Math.floor(at_s / DAY_S);
  const time = clockWords(at_s - days * DAY_S);
  if (days === 0 && isToday) return time;
  const date = new Date(`${day}T12:00:00Z`);
  date.setUTCDate(date.getUTCDate() + days);
  return `${weekdayOf(date.toISOString().slice(0, 10)).slice(0, 3)} ${time}`;
}

const SMALL = [
  "no",
  "one",
  "two",
  "three",
  "four",
  "five",
  "six",
  "seven",
  "eight",
  "nine",
  "ten",
  "eleven",
  "twelve",
] as const;
/** "nine", and figures above twelve. */
export const countWord = (count: number): string => SMALL[count] ?? String(count);

/** Minutes of work, whole: a begun minute counts. */
export const minutesOf = (seconds: number): number => Math.ceil(seconds / 60);

export const toPack = (day: DayShown): DayParcel[] =>
  day.parcels.filter((one) => one.state === "planned" || one.state === "bench");

/** Less than this before the latest start it is time to begin. */
const NEARLY_S = 300;

/** The one sentence the day is opened for: can all of today's leave, and when must packing begin? */
export function headline(day: DayShown, now_s: number): string {
  const when = day.is_today ? "today" : `on ${weekdayOf(day.day)}`;
  if (day.closed) return `The workshop is closed ${when}.`;
  const open = toPack(day);
  const late = open.filter((one) => one.late !== null);
  if (open.length === 0) {
    const ready = day.parcels.filter((one) => one.state === "closed").length;
    if (ready > 0)
      return `All of today's are packed; ${countWord(ready)} ${ready === 1 ? "waits" : "wait"} to be handed over.`;
    return day.parcels.length > 0 ? "All of today's have left." : `Nothing has to leave ${when}.`;
  }
  if (late.length > 0)
    return day.outcome === "cannot"
      ? `${numberOf(late.length, open.length)} cannot leave ${when}.`
      : `No way was found for ${numberOf(late.length, open.length).toLowerCase()} to leave ${when}.`;
  const all =
    open.length === 1
      ? `The one parcel can leave ${when}.`
      : `${open.length === 2 ? "Both" : `All ${countWord(open.length)}`} can leave ${when}.`;
  if (day.begin_by_s === null) return all;
  const working = open.some((one) => one.state === "bench");
  if (day.is_today && day.begin_by_s - now_s < NEARLY_S)
    return `${all} ${working ? "Go on" : "Start"} now.`;
  return `${all} ${working ? "There is time until" : "Start by"} ${clockWords(day.begin_by_s)}.`;
}

/** "Monday", of a day as the server writes it. */
export const weekdayOf = (iso: string): string =>
  WEEKDAYS[(new Date(`${iso}T12:00:00Z`).getUTCDay() + 6) % 7] ?? iso;

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const numberOf = (some: number, all: number): string =>
  some === all
    ? all === 1
      ? "The one parcel"
      : `All ${countWord(all)}`
    : `${upper(countWord(some))} of ${countWord(all)}`;

/** Who is at the table until when, and how much there is to do. */
export function under(day: DayShown): string {
  const minutes = minutesOf(day.seconds);
  const people = day.people
    .map((one) => {
      const until = one.spans.at(-1)?.[1];
      const name = one.who || "one person";
      return until === undefined ? name : `${name} until ${clockWords(until)}`;
    })
    .join(", ");
  const work = minutes > 0 ? `${many(minutes, "minute")} of packing` : "nothing to pack";
  return people ? `${work}; ${people}` : `${work}; nobody is at the table any more today`;
}

export const LATE_WORDS: Record<LateWhy, string> = {
  over: "its hand-over is over",
  nobody: "nobody packs until then",
  not_ready: "what it needs is not prepared",
  too_long: "it takes longer than there is",
  too_much: "the day is too full",
  not_found: "no order of packing was found that makes it",
};

/** Where the drawing of the day begins and ends: whole hours round now, the hand-overs and the packing. */
export function reachOf(day: DayShown, now_s: number): [from_s: number, to_s: number] {
  const ends = [
    ...(day.is_today ? [now_s + 1800] : []),
    ...day.posts.map((post) => post.at_s + 900),
    ...day.parcels.flatMap((one) =>
      one.end_s === null || one.state === "left" ? [] : [one.end_s],
    ),
  ];
  const done = day.parcels.flatMap((one) =>
    (one.state === "closed" || one.state === "left") && one.end_s !== null && one.end_s > 0
      ? [one.end_s]
      : [],
  );
  const starts = day.parcels.flatMap((one) => (one.start_s === null ? [] : [one.start_s]));
  const begins = day.is_today ? [now_s - 120, ...done] : [...starts, 16 * 3600];
  const from = Math.floor(Math.max(0, Math.min(...begins)) / 3600) * 3600;
  const to = Math.ceil(Math.min(DAY_S, Math.max(...ends)) / 3600) * 3600;
  return [from, Math.max(to, from + 2 * 3600)];
}
