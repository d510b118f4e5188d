import { describe, expect, it } from "vitest";
import { dayWords, many, parcelName, wayName } from "./words";

const length = (um: number) => `${um / 1000} mm`;
const carton = (container: string, more: object = {}) =>
  ({ container, change: null, strapped: null, nested: null, ...more }) as never;

describe("counts", () => {
  it("take their noun with them, one alone without an s", () => {
    expect([0, 1, 2].map((n) => many(n, "order"))).toEqual(["0 orders", "1 order", "2 orders"]);
  });
});

describe("days", () => {
  it("are short and do not move with the clock of the machine", () => {
    expect(dayWords("2026-12-01")).toBe("Tue, 1 Dec".replace(",", ""));
    expect(dayWords("2026-12-01T23:59:59Z")).toBe(dayWords("2026-12-01"));
  });
});

describe("what an order goes in", () => {
  it("is named by its code, what is done to it and what is inside", () => {
    expect(parcelName(carton("C-14"), length)).toBe("C-14");
    expect(parcelName(carton("C-30", { nested: { code: "C-21" } }), length)).toBe(
      "C-30, C-21 inside",
    );
    expect(
      parcelName(
        carton("C-5", {
          strapped: { cartons: [{ candidate: carton("C-5") }, { candidate: carton("C-8") }] },
        }),
        length,
      ),
    ).toBe("C-5 strapped to C-8");
  });
  it("counts parcels alike and joins the rest with and", () => {
    const way = (...codes: string[]) => ({
      parcels: codes.map((code) => ({ candidate: carton(code) })),
    });
    expect(wayName(way("C-14"), length)).toBe("C-14");
    expect(wayName(way("C-18", "C-18", "C-14"), length)).toBe("2 of C-18 and C-14");
    expect(wayName(way("A", "B", "C"), length)).toBe("A, B and C");
  });
});
