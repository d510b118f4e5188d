import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { burst } from "./burst";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const made = () => {
  const keys: string[] = [];
  const codes: string[] = [];
  return {
    keys,
    codes,
    one: burst(
      (some) => keys.push(...some),
      (code) => codes.push(code),
    ),
  };
};

test("a code typed in one go is a code, and no key of it reaches the screen", () => {
  const { keys, codes, one } = made();
  for (const key of "PRE-BLK") expect(one.key(key)).toBe(true);
  expect(one.key("Enter")).toBe(true);
  vi.advanceTimersByTime(1000);
  expect([codes, keys]).toEqual([["PRE-BLK"], []]);
});

test("keys of a hand reach the screen a moment later, in their order", () => {
  const { keys, codes, one } = made();
  one.key("w");
  vi.advanceTimersByTime(200);
  one.key("l");
  vi.advanceTimersByTime(200);
  expect([keys, codes]).toEqual([["w", "l"], []]);
});

test("Space, Enter and the arrows are never part of a code, and let go of what waits", () => {
  const { keys, one } = made();
  one.key("1");
  expect(one.key(" ")).toBe(false);
  expect(keys).toEqual(["1"]);
  expect(one.key("Enter")).toBe(false);
  expect(one.key("Backspace")).toBe(false);
});
