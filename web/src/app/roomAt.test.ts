import { describe, expect, it } from "vitest";
import { roomAt } from "./roomAt";

const ROOMS = [{ to: "/arrivals" }, { to: "/arrivals/parcels" }, { to: "/buy" }];

describe("the room an address is in", () => {
  it("is the nearest around it", () => {
    expect(roomAt(ROOMS, "/arrivals")).toBe("/arrivals");
    expect(roomAt(ROOMS, "/arrivals/parcels")).toBe("/arrivals/parcels");
    expect(roomAt(ROOMS, "/arrivals/parcels/7")).toBe("/arrivals/parcels");
    expect(roomAt(ROOMS, "/arrivals/elsewhere")).toBe("/arrivals");
  });

  it("is none where only letters are alike", () => {
    expect(roomAt(ROOMS, "/buyers")).toBeUndefined();
    expect(roomAt(ROOMS, "/")).toBeUndefined();
  });
});
