import { describe, expect, it } from "vitest";
import { isOrdinary, readValue, shownValue, unitOf, type Setting } from "./values";

const setting = (kind: string, value: string, ends: [string, string]): Setting => ({
  name: "one",
  group: "work",
  kind,
  title: "One",
  value,
  default: value,
  least: ends[0],
  most: ends[1],
  whole: false,
  rule: "1.1",
  reason: "why",
  where: "where",
});

describe("a setting", () => {
  it("is shown in the workshop's units", () => {
    expect(shownValue({ kind: "length" }, "25400", "imperial")).toBe("1");
    expect(shownValue({ kind: "length" }, "20000", "metric")).toBe("20");
    expect(shownValue({ kind: "share" }, "0.003", "metric")).toBe("0.3");
    expect(shownValue({ kind: "weight" }, "10000000", "metric")).toBe("10000");
    expect(unitOf({ kind: "money" }, "metric", "Cr")).toBe("Cr");
  });

  it("keeps its exact value when it is not touched", () => {
    const fold = setting("length", "20001", ["0", "500000"]);
    expect(readValue(fold, shownValue(fold, fold.value, "imperial"), "imperial")).toEqual({
      value: "20001",
    });
  });

  it("is read with or without its unit, and kept within its ends", () => {
    const fold = setting("length", "20000", ["0", "500000"]);
    expect(readValue(fold, "3 cm", "metric")).toEqual({ value: "30000" });
    expect(readValue(fold, "900", "metric")).toEqual({ fault: "From 0 to 500 mm" });
    const share = setting("share", "0.003", ["0", "0.5"]);
    expect(readValue(share, "1,5 %", "metric")).toEqual({ value: "0.015" });
    expect(readValue(share, "80", "metric")).toHaveProperty("fault");
    const wage = setting("money", "15.00", ["0", "1000"]);
    expect(readValue(wage, "18,50", "metric")).toEqual({ value: "18.50" });
    expect(readValue(wage, "", "metric")).toHaveProperty("fault");
    expect(readValue(wage, "1,200", "metric")).toHaveProperty("fault");
    expect(isOrdinary(wage)).toBe(true);
  });
});
