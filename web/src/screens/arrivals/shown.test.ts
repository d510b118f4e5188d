import { describe, expect, it } from "vitest";
import { sent, sides, type Answer } from "./shown";

const typed: Answer = {
  revision: 2,
  outcome: "broken",
  harms: [{ kind: "broken", place: "lid", spot: "", sku: "", units: 1 }],
  note: "",
  message: "",
  gave_back: "replacement",
  gave_amount: "5.00",
  delivered_on: null,
};

describe("what is sent of an answer", () => {
  it("tells of harms only where something was hurt", () => {
    expect(sent({ ...typed, outcome: "whole" }).harms).toEqual([]);
    expect(sent({ ...typed, outcome: "lost" }).harms).toEqual([]);
    expect(sent(typed).harms).toHaveLength(1);
  });

  it("takes the kind from the outcome, and no place from what is spoiled", () => {
    expect(sent({ ...typed, outcome: "marked" }).harms[0]?.kind).toBe("marked");
    const spoiled = sent({ ...typed, outcome: "spoiled" }).harms[0];
    expect([spoiled?.kind, spoiled?.place]).toEqual(["spoiled", null]);
  });

  it("says that something broke though nobody said where", () => {
    expect(sent({ ...typed, harms: [] }).harms[0]?.place).toBeNull();
  });

  it("sends an amount only where money went back", () => {
    expect(sent(typed).gave_amount).toBe("0");
    expect(sent({ ...typed, gave_back: "refund" }).gave_amount).toBe("5.00");
    expect(sent({ ...typed, gave_back: "refund", gave_amount: "" }).gave_amount).toBe("0");
  });

  it("draws a box where the outside is not known", () => {
    expect(sides(null)).toEqual([300_000, 200_000, 200_000]);
    expect(sides([1, 2, 3])).toEqual([1, 2, 3]);
  });
});
