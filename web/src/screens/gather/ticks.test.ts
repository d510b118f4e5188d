import { describe, expect, it } from "vitest";
import { scanned } from "./ticks";

const THINGS = [
  { code: "PRE-BLK", place: "G1" },
  { code: "PRE-QUI", place: "G2" },
  { code: "C-14", place: "A4" },
  { code: "C-18", place: "A4" },
];

describe("a code that is scanned while gathering", () => {
  it("is a product or a supply by its own code, whatever the letters' size", () => {
    expect(scanned(" c-14 ", THINGS)?.code).toBe("C-14");
    expect(scanned("pre-blk", THINGS)?.code).toBe("PRE-BLK");
  });

  it("is what stands alone at a place, and nothing where two things stand", () => {
    expect(scanned("g2", THINGS)?.code).toBe("PRE-QUI");
    expect(scanned("A4", THINGS)).toBeNull();
    expect(scanned("X-1", THINGS)).toBeNull();
  });
});
