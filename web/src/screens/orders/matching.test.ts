import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import {
  amountReadings,
  andColumn,
  asked,
  dayReadings,
  freeColumns,
  matchingOf,
  withColumn,
  withConstant,
  withWord,
} from "./matching";

const field = (name: string, ...columns: string[]): Schemas["FieldOut"] => ({
  name,
  several: name === "address",
  columns,
  constant: name === "country" ? "ALM" : "",
  by: "name",
  read: 100,
});

const shown: Schemas["MatchingOut"] = {
  fields: [
    field("order", "No"),
    field("buyer", "Who"),
    field("address", "Street"),
    field("country"),
  ],
  columns: ["No", "Who", "Street", "House", "Extra"].map((name) => ({
    name,
    filled: 1,
    samples: ["x"],
  })),
  day_order: "day_first",
  decimal_mark: "comma",
  words: {},
  countries: ["ALM"],
  questions: [],
};

describe("what a person says of a file's columns", () => {
  const read = matchingOf(shown);

  it("begins with what was found", () => {
    expect(read.columns).toEqual({ order: ["No"], buyer: ["Who"], address: ["Street"] });
    expect(read.constants).toEqual({ country: "ALM" });
    expect(freeColumns(shown, read)).toEqual(["House", "Extra"]);
  });

  it("gives a column to one field only", () => {
    const moved = withColumn(read, "title", "Who");
    expect(moved.columns).toEqual({ order: ["No"], address: ["Street"], title: ["Who"] });
    expect(withColumn(read, "buyer", "").columns).toEqual({ order: ["No"], address: ["Street"] });
  });

  it("reads a day of another column afresh", () => {
    expect(withColumn(read, "placed_on", "Extra").day_order).toBeNull();
    expect(withColumn(read, "note", "Extra").day_order).toBe("day_first");
  });

  it("makes one field of several columns", () => {
    expect(andColumn(read, "address", "House").columns["address"]).toEqual(["Street", "House"]);
  });

  it("keeps words and constants beside each other", () => {
    const two = withWord(withWord(read, "status", "ok", "open"), "status", "gone", "sent");
    expect(two.words?.["status"]).toEqual({ ok: "open", gone: "sent" });
    expect(withConstant(read, "town", "Dunmere").constants).toEqual({
      country: "ALM",
      town: "Dunmere",
    });
  });

  it("says a day and an amount both ways", () => {
    expect(dayReadings("03/04/2026").map((one) => one.text)).toEqual(["3 April", "4 March"]);
    expect(amountReadings("€ 1,250").map((one) => one.text)).toEqual(["1250", "1.250"]);
  });

  it("asks in words", () => {
    expect(asked({ about: "missing", field: "postcode", sample: "" })).toBe(
      "Which column is the postcode?",
    );
    expect(asked({ about: "word", field: "status", sample: "ok" })).toContain("“ok”");
  });
});
