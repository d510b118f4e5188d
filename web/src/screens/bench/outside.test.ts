import { expect, it } from "vitest";
import { minutesOut } from "./outside";

it("counts whole minutes and says when it is too long", () => {
  const at = (minutes: number) => minutesOut(0, minutes * 60_000 + 59_000, 20);
  expect(at(0)).toEqual({ minutes: 0, over: false });
  expect(at(19)).toEqual({ minutes: 19, over: false });
  expect(at(20)).toEqual({ minutes: 20, over: true });
  expect(minutesOut(60_000, 0, 20)).toEqual({ minutes: 0, over: false });
});
