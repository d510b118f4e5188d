import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import { closingWords } from "./ClosingNotice";
import { scannedAtStep } from "./scanned";

const step = (kind: string, ...codes: string[]) => ({
  kind,
  takes: codes.map((code) => ({ code })),
});
const PARCEL = {
  order: { number: "1165" },
  tracking: "",
  label: { tracking: "LK77" },
  steps: [step("gather", "LOAF-GIN", "C-11"), step("close", "T-PAP"), step("hand_over")],
} as unknown as Schemas["ParcelOut"];

test("what a step takes is done by its code, whatever the letters' size", () => {
  expect(scannedAtStep(PARCEL, 0, "c-11")).toEqual({ does: "next" });
  expect(scannedAtStep(PARCEL, 1, "T-PAP")).toEqual({ does: "next" });
});

test("what belongs elsewhere or nowhere is said and does nothing", () => {
  expect(scannedAtStep(PARCEL, 0, "T-PAP")).toMatchObject({
    words: expect.stringContaining("step 2"),
  });
  expect(scannedAtStep(PARCEL, 0, "PRE-BLK")).toMatchObject({
    words: expect.stringContaining("does not go into this parcel"),
  });
});

test("at the end the parcel's own label closes it, another one does not", () => {
  expect(scannedAtStep(PARCEL, 2, "LK77")).toEqual({ does: "next" });
  expect(scannedAtStep(PARCEL, 2, "LK78")).toMatchObject({ does: "tell" });
});

const CLOSING: Schemas["ClosingOut"] = {
  wanted: "evident",
  full_strength_minutes: 60,
  full_strength_s: 16 * 3600,
  hand_over: {
    key: "1@2026-11-24",
    name: "Larkline",
    kind: "collection",
    day: "2026-11-24",
    at_s: 56_400,
  },
  leaves_with: {
    key: "1@2026-11-25",
    name: "Larkline",
    kind: "collection",
    day: "2026-11-25",
    at_s: 142_800,
  },
  today: "2026-11-24",
  humidity_percent: 78,
  from_sensor: true,
  weak: [{ name: "Paper tape", above_percent: 65 }],
  old_marks: false,
};

test("a glue that is not ready by the hand-over says with which one it goes", () => {
  const [holds, damp] = closingWords(CLOSING);
  expect(holds).toContain("holds fully from 16:00");
  expect(holds).toContain("counts as open");
  expect(holds).toContain("It goes with Larkline");
  expect(damp).toContain("78 % here, as the sensor says");
});

test("in time, or asked for nothing, it only says when it holds", () => {
  const { hand_over } = CLOSING;
  expect(closingWords({ ...CLOSING, leaves_with: hand_over, weak: [] })[0]).toContain(
    "is after that",
  );
  expect(closingWords({ ...CLOSING, wanted: "none", weak: [] })[0]).toContain("carry it carefully");
  expect(closingWords({ ...CLOSING, full_strength_minutes: 0, weak: [] })).toEqual([]);
});
