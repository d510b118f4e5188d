import { describe, expect, it } from "vitest";
import { fieldOfPath, timeText, TIMES, typedTimes } from "./times";

const NOW = {
  hours: [{ who: "Maren", days: [0, 1], begins: "09:30:00", ends: "12:30:00" }],
  hand_overs: [
    {
      id: 3,
      name: "Larkline collects",
      kind: "collection" as const,
      carriers: ["larkline"],
      days: [0],
      at: "15:40:00",
      way_minutes: 0,
      most_parcels: null,
      who: "",
    },
  ],
  closures: [{ day: "2026-12-25", reason: "Holiday" }],
  carriers: [],
  assumed_hours: null,
  assumed_hand_overs: [],
};

describe("hours and hand-overs as they are typed", () => {
  it("reads times as people write them", () => {
    expect(["9", "9:30", "0930", "9.30", "23:59"].map(timeText)).toEqual([
      "09:00",
      "09:30",
      "09:30",
      "09:30",
      "23:59",
    ]);
    expect(["24:00", "9:75", "noon", ""].map(timeText)).toEqual([null, null, null, null]);
  });

  it("sends what it was given", () => {
    const sent = TIMES.parse(typedTimes(NOW));
    expect(sent).toEqual({
      hours: [{ who: "Maren", days: [0, 1], begins: "09:30", ends: "12:30" }],
      hand_overs: [{ ...NOW.hand_overs[0], at: "15:40" }],
      closures: NOW.closures,
    });
  });

  it("says at its field what is no time, and which days are missing", () => {
    const typed = typedTimes(NOW);
    const wrong = TIMES.safeParse({
      ...typed,
      hours: [{ ...typed.hours[0], begins: "soon", days: [] }],
    });
    expect(wrong.error?.issues.map((one) => one.path.join("."))).toEqual([
      "hours.0.days",
      "hours.0.begins",
    ]);
  });

  it("finds the form's field of the server's path", () => {
    expect(fieldOfPath("hand_overs[1].carriers")).toBe("hand_overs.1.carriers");
  });
});
