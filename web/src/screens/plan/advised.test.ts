import { describe, expect, it } from "vitest";
import { cleared, decidedWords, type Decisions } from "./advised";

const NOTHING: Decisions = {
  container: null,
  forbidden: ["C-05"],
  may_lie_down: [],
  note: "ring",
  parcels: null,
  shares: [],
  service: null,
  not_before: null,
  arrive_by: null,
  omitted: [],
  substitutes: [],
  care: null,
};

describe("decisions for one order", () => {
  it("are told in words, with names where they are known", () => {
    const now: Decisions = {
      ...NOTHING,
      service: "WEND-STD",
      not_before: "2026-12-01",
      omitted: ["I-CARD"],
      substitutes: [["F-KRA", "F-AIR"]],
    };
    expect(
      decidedWords(
        now,
        new Map([
          ["F-KRA", "Kraft"],
          ["F-AIR", "Air pillows"],
        ]),
        new Map([["WEND-STD", "Wending Standard"]]),
      ),
    ).toBe(
      "Service: Wending Standard. Not before Tue 1 Dec. Without I-CARD. Air pillows instead of Kraft.",
    );
    expect(decidedWords(NOTHING, new Map(), new Map())).toBe("");
  });
  it("are cleared of what advice sets and keep the rest", () => {
    expect(cleared({ ...NOTHING, container: "C-08", service: "X", omitted: ["I"] })).toEqual(
      NOTHING,
    );
  });
});
