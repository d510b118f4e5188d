import { expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { coverWords, isFound, needsAttention, type Covers, type Supply } from "./supply";

const supply = (change: object) =>
  ({
    id: 1,
    name: "Carton 320 x 230 x 170",
    code: "C-14",
    kind: "carton",
    shelf: "A",
    slot: 4,
    on_hand: "34",
    free: "25",
    reorder_at: "20",
    ...change,
  }) as unknown as Supply;
const cover = (change: object): Covers =>
  new Map([
    [
      1,
      {
        listed: null,
        late_arrival: false,
        asleep: false,
        ...change,
      } as unknown as Schemas["CoverOut"],
    ],
  ]);
const NONE: Covers = new Map();

it("a supply is found by name, code or place, and by what is asked for", () => {
  expect(isFound(supply({}), "320", "", NONE)).toBe(true);
  expect(isFound(supply({}), "a4", "", NONE)).toBe(true);
  expect(isFound(supply({}), "tape", "", NONE)).toBe(false);
  expect(isFound(supply({}), "", "tape", NONE)).toBe(false);
  expect(isFound(supply({}), "", "asleep", cover({ asleep: true }))).toBe(true);
});

it("below its mark, promised away, to order or late it needs attention", () => {
  expect(needsAttention(supply({}), NONE)).toBe(false);
  expect(needsAttention(supply({ on_hand: "19" }), NONE)).toBe(true);
  expect(needsAttention(supply({ free: "-1" }), NONE)).toBe(true);
  expect(needsAttention(supply({}), cover({ listed: "due" }))).toBe(true);
  expect(needsAttention(supply({}), cover({ listed: "with_it" }))).toBe(false);
  expect(needsAttention(supply({}), cover({ late_arrival: true }))).toBe(true);
});

it("how long it lasts is said where it is known", () => {
  expect(coverWords({ cover_days: 1 } as Schemas["CoverOut"])).toBe("1 day");
  expect(coverWords({ cover_days: null } as Schemas["CoverOut"])).toBe("");
});
