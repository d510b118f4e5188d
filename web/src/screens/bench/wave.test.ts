// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from "vitest";
import { keepWave, nextOfWave } from "./wave";

describe("the parcels of a wave", () => {
  beforeEach(() => window.localStorage.clear());

  it("follow each other, and end with the last", () => {
    keepWave([7, 9, 12]);
    expect([nextOfWave(7), nextOfWave(9), nextOfWave(12)]).toEqual([9, 12, null]);
  });

  it("are none of a parcel that is in no wave, or of what another program wrote", () => {
    expect(nextOfWave(7)).toBeNull();
    window.localStorage.setItem("bench-wave", "{");
    expect(nextOfWave(7)).toBeNull();
  });
});
