import { describe, expect, it } from "vitest";
import {
  clockWords,
  headline,
  momentOf,
  reachOf,
  under,
  type DayParcel,
  type DayShown,
} from "./day";

const parcel = (changes: Partial<DayParcel> = {}): DayParcel => ({
  key: "1-1",
  order_id: 1,
  parcel_id: null,
  number: "1184",
  buyer: "Ismay Thorrold",
  part: 1,
  parts: 1,
  state: "planned",
  seconds: 600,
  post: "1@2026-11-23",
  table: 0,
  start_s: 50_000,
  end_s: 50_600,
  in_row: false,
  late: null,
  service_name: "Two-day",
  container: "C-14",
  chosen: false,
  ...changes,
});

const day = (parcels: DayParcel[], changes: Partial<DayShown> = {}): DayShown => ({
  outcome: "all",
  begin_by_s: 52_500,
  seconds: 5_600,
  people: [{ who: "Maren", spans: [[47_520, 61_200]] }],
  closed: false,
  day: "2026-11-23",
  is_today: true,
  posts: [],
  parcels,
  ...changes,
});

describe("the day in words", () => {
  it("writes times of the workshop's clock, also of other days", () => {
    expect([clockWords(52_500), clockWords(86_400 + 30_600), clockWords(-3600)]).toEqual([
      "14:35",
      "tomorrow 08:30",
      "yesterday 23:00",
    ]);
  });

  it("names the weekday of a moment on another day", () => {
    expect([momentOf("2026-11-30", 3600), momentOf("2026-11-30", -6_900)]).toEqual([
      "01:00",
      "Sun 22:05",
    ]);
  });

  it("names the weekday always while another day than today is looked at", () => {
    expect(momentOf("2026-12-01", 34_200, false)).toBe("Tue 09:30");
  });

  it("answers whether all can leave and when to begin", () => {
    const nine = Array.from({ length: 9 }, () => parcel());
    expect(headline(day(nine), 47_520)).toBe("All nine can leave today. Start by 14:35.");
    expect(headline(day(nine), 52_400)).toBe("All nine can leave today. Start now.");
    expect(headline(day([parcel({ state: "bench" })]), 47_520)).toBe(
      "The one parcel can leave today. There is time until 14:35.",
    );
  });

  it("says cannot only where it is proven", () => {
    const some = [parcel(), parcel({ late: "too_much", table: null, start_s: null, end_s: null })];
    expect(headline(day(some, { outcome: "cannot" }), 0)).toBe("One of two cannot leave today.");
    expect(headline(day(some, { outcome: "not_found" }), 0)).toBe(
      "No way was found for one of two to leave today.",
    );
  });

  it("looks ahead at a later day", () => {
    const ahead = day([parcel(), parcel()], { is_today: false });
    expect(headline(ahead, 0)).toBe("Both can leave on Monday. Start by 14:35.");
  });

  it("tells a day that is packed, gone, empty or closed", () => {
    expect(headline(day([parcel({ state: "closed" })]), 0)).toBe(
      "All of today's are packed; one waits to be handed over.",
    );
    expect(headline(day([parcel({ state: "left" })]), 0)).toBe("All of today's have left.");
    expect(headline(day([]), 0)).toBe("Nothing has to leave today.");
    expect(headline(day([], { closed: true }), 0)).toBe("The workshop is closed today.");
  });

  it("tells the work and who does it", () => {
    expect(under(day([]))).toBe("94 minutes of packing; Maren until 17:00");
    expect(under(day([], { people: [], seconds: 0 }))).toBe(
      "nothing to pack; nobody is at the table any more today",
    );
  });

  it("draws whole hours round now, the hand-overs and what was packed", () => {
    const posts = [{ at_s: 56_400 }] as unknown as DayShown["posts"];
    expect(reachOf(day([parcel()], { posts }), 47_520)).toEqual([46_800, 57_600]);
  });
});
