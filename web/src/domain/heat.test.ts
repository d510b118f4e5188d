import { describe, expect, it } from "vitest";
import { clockHour, degrees, legsOf, outsideHours, spanOf, wayWords, type WayHour } from "./heat";

const hour = (kind: WayHour["kind"], outside_c: number, inside_c: number): WayHour => ({
  begins: "2026-12-01T05:00:00+01:00",
  kind,
  outside_c,
  inside_c,
  forecast: true,
});

const WAY = [hour("van", 20, 15), hour("night", 24, 19.2), hour("night", 22, 18)];

describe("temperatures", () => {
  it("are written in the workshop's unit", () => {
    expect(degrees(18, false)).toBe("18 C");
    expect(degrees(-3.25, false)).toBe("-3.3 C");
    expect(degrees(18, true)).toBe("64 F");
  });
});

describe("the way", () => {
  it("is put together by where the parcel is", () => {
    expect(legsOf(WAY)).toEqual([
      { kind: "van", from: 0, to: 1 },
      { kind: "night", from: 1, to: 3 },
    ]);
    expect(clockHour(WAY[0]?.begins ?? "")).toBe(5);
  });

  it("is drawn with room for air, goods and limits", () => {
    expect(spanOf(WAY, [18, null])).toEqual([10, 25]);
    expect(spanOf(WAY, [-4, 30])).toEqual([-5, 35]);
  });

  it("is told in words, with the hours outside the limits", () => {
    expect(outsideHours(WAY, null, 18)).toBe(1);
    expect(outsideHours(WAY, 16, null)).toBe(1);
    expect(wayWords(WAY, null, 18, false)).toBe(
      "3 hours: van 1 h, between depots 2 h. Air 20 C to 24 C, goods 15 C to 19.2 C; " +
        "they may be at most 18 C. They are outside for 1 hour.",
    );
    expect(wayWords([], null, 18, false)).toBe("No way is known.");
  });
});
