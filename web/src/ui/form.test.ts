import { describe, expect, it } from "vitest";
import { ProblemError, type Problem } from "../api/client";
import { fieldErrors, required, typedNumber } from "./form";

const problem = (more: Partial<Problem>) =>
  new ProblemError({
    type: "about:blank",
    title: "",
    status: 422,
    code: "not_valid",
    detail: "Too long.",
    field: null,
    faults: [],
    facts: {},
    ...more,
  });

describe("errors of the server in a form", () => {
  it("land at the fields they are about; the others stay with the form", () => {
    const faults = [
      { path: "product.name", message: "Too long." },
      { path: "product.else", message: "Unknown." },
    ];
    expect(fieldErrors(["name", "size"], { error: problem({ faults }) })).toEqual([
      ["name", "Too long."],
    ]);
    expect(fieldErrors(["name"], { error: problem({ field: "name" }) })).toEqual([
      ["name", "Too long."],
    ]);
    expect(fieldErrors(["name"], { error: new Error("no connection") })).toEqual([]);
  });
});

describe("what is typed", () => {
  it("a number that may be two is asked about, one that is clear is not", () => {
    expect(typedNumber().safeParse("1,200").error?.issues[0]?.message).toContain("1,200 may be");
    expect(typedNumber().safeParse("1,5").success).toBe(true);
    expect(required("A name").safeParse("  ").success).toBe(false);
  });
});
