import { describe, expect, it } from "vitest";
import { docOf, emptyPolicy, typedFrom } from "./policyFields";

describe("a policy as it is typed", () => {
  it("is a document once every number is there", () => {
    expect(docOf(emptyPolicy(), "metric")).toBeNull();
    expect(docOf({ ...emptyPolicy("3,79"), freeFrom: "60" }, "metric")).toMatchObject({
      base: { kind: "flat", amount: "3.79" },
      free_from: "60",
    });
    expect(docOf({ ...emptyPolicy("3.79"), freeFrom: "much" }, "metric")).toBeNull();
  });

  it("by weight needs rising steps", () => {
    const steps = [
      { upTo: "1 kg", amount: "4.50" },
      { upTo: "3 kg", amount: "6" },
    ];
    const typed = { ...emptyPolicy(), kind: "by_weight" as const, steps };
    expect(docOf(typed, "metric")?.base).toEqual({
      kind: "by_weight",
      steps: [
        { up_to_mg: 1_000_000, amount: "4.50" },
        { up_to_mg: 3_000_000, amount: "6" },
      ],
    });
    expect(docOf({ ...typed, steps: [...steps].reverse() }, "metric")).toBeNull();
  });

  it("by value begins at nought", () => {
    const typed = { ...emptyPolicy(), kind: "by_value" as const };
    const steps = [
      { upTo: "0", amount: "5" },
      { upTo: "40", amount: "3" },
    ];
    expect(docOf({ ...typed, steps }, "metric")?.base.kind).toBe("by_value");
    expect(docOf({ ...typed, steps: steps.slice(1) }, "metric")).toBeNull();
  });

  it("comes back as it was typed", () => {
    const typed = {
      ...emptyPolicy("5.90"),
      freeFrom: "45",
      endings: "0.50 0.95",
      zones: [{ zone: "I", base: { ...emptyPolicy("9"), kind: "flat" as const } }],
    };
    const doc = docOf(typed, "metric");
    expect(doc?.endings).toEqual(["0.50", "0.95"]);
    const back = doc && typedFrom(doc, "metric");
    expect(back && docOf(back, "metric")).toEqual(doc);
  });
});
