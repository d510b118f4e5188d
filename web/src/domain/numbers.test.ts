import { describe, expect, it } from "vitest";
import { readSigned, askAbout, numberIn, numberText, readNumber } from "./numbers";

describe("readNumber", () => {
  it("takes a decimal point and a decimal comma", () => {
    expect([numberIn("1.5"), numberIn("1,5"), numberIn(" 12 "), numberIn(",5")]).toEqual([
      1.5, 1.5, 12, 0.5,
    ]);
  });
  it("takes thousands where nothing else can be meant", () => {
    expect([
      numberIn("1,234.5"),
      numberIn("1.234,5"),
      numberIn("0,420"),
      numberIn("1,234,567"),
    ]).toEqual([1234.5, 1234.5, 0.42, 1234567]);
  });
  it("asks about 1,200", () => {
    expect(readNumber("1,200")).toEqual({
      kind: "ask",
      question: "1,200 may be 1.2 or 1200. Write which.",
    });
    expect(askAbout("12,345")).toContain("12.345 or 12345");
  });
  it("sends what is no number as it was typed", () => {
    expect([numberText("heavy"), numberText("2,50"), askAbout("heavy")]).toEqual([
      "heavy",
      "2.50",
      "heavy is not a number. Write 2, 1.5 or 1,5.",
    ]);
  });
});

describe("a temperature", () => {
  it("may be below nought", () => {
    expect(readSigned("-12,5")).toEqual({ kind: "number", value: -12.5, text: "-12.5" });
    expect(readSigned("\u221218")).toEqual({ kind: "number", value: -18, text: "-18" });
    expect(readSigned("-0")).toEqual({ kind: "number", value: -0, text: "0" });
    expect(readSigned("4")).toEqual({ kind: "number", value: 4, text: "4" });
    expect(readSigned("--4").kind).toBe("none");
  });
});
