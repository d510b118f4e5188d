import { describe, expect, it } from "vitest";
import { CORNERS, EDGES, placeWords } from "./arriving";

describe("places on a parcel", () => {
  it("has eight corners and twelve edges, each with a name of its own", () => {
    expect(CORNERS.length).toBe(8);
    expect(EDGES.length).toBe(12);
    expect(new Set([...CORNERS, ...EDGES].map((one) => one.name)).size).toBe(20);
  });

  it("names a corner by three sides and an edge by two", () => {
    expect(CORNERS.map((one) => one.name)).toContain("bottom-front-left");
    expect(EDGES.map((one) => one.name)).toContain("top-front");
    expect(EDGES.every((one) => one.name.split("-").length === 2)).toBe(true);
  });

  it("an edge runs along one axis only", () => {
    for (const edge of EDGES)
      expect(edge.from.filter((value, axis) => value !== edge.to[axis]).length).toBe(1);
  });

  it("says a place with its spot, and that none was said", () => {
    expect(placeWords("corner", "bottom-front-left")).toBe("Corner, bottom front left");
    expect(placeWords("lid", "")).toBe("Lid of a unit");
    expect(placeWords(null, "")).toBe("place not said");
  });
});
