import { describe, expect, it } from "vitest";
import { sought } from "./sought";

const OPTIONS = [
  "C-14  Carton 320 x 230 x 170  A4",
  "C-16  Carton 250 x 250 x 225  A5",
  "I-SOAP  Soap sample, oat  D4",
].map((text) => ({ value: text.slice(0, 4), text }));

describe("finding one of many", () => {
  it("takes every word that was typed, in any order and any case", () => {
    expect(sought(OPTIONS, "225 carton").map((one) => one.value)).toEqual(["C-16"]);
    expect(sought(OPTIONS, "SOAP d4").map((one) => one.value)).toEqual(["I-SO"]);
    expect(sought(OPTIONS, " ")).toEqual(OPTIONS);
    expect(sought(OPTIONS, "bubble")).toEqual([]);
  });
});
