// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from "vitest";
import { forgetPractice, gone, keepPractice, savedPractice } from "./kept";

describe("where a practice stands", () => {
  beforeEach(() => window.localStorage.clear());

  it("is found again after a reload, and gone when it is forgotten", () => {
    keepPractice(3, { at: 4, spent: { "0": 12 } });
    expect(savedPractice(3, 9)).toEqual({ at: 4, spent: { "0": 12 } });
    forgetPractice(3);
    expect(savedPractice(3, 9)).toEqual({ at: 0, spent: {} });
  });

  it("stays within the steps there are, whatever was kept", () => {
    keepPractice(3, { at: 40, spent: {} });
    expect(savedPractice(3, 9).at).toBe(8);
    for (const text of ["{", "7", '{"at":"x"}', '{"at":2,"spent":null}', "[]"]) {
      window.localStorage.setItem("practice-3", text);
      expect(savedPractice(3, 9)).toEqual({ at: 0, spent: {} });
    }
  });

  it("adds what passed to the step that is left, each time it is left", () => {
    const once = gone({ at: 1, spent: { "1": 5 } }, 2, 0, 30_000);
    expect(once).toEqual({ at: 2, spent: { "1": 35 } });
    expect(gone(once, 1, 30_000, 40_000)).toEqual({ at: 1, spent: { "1": 35, "2": 10 } });
  });
});
