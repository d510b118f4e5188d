import { describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { lastLayerBefore, nextAction, openSteps } from "./next";
import type { Bench } from "./useBench";

type Step = Schemas["BenchStep"];
const step = (kind: Step["kind"], more: Partial<Step> = {}): Step => ({
  kind,
  title: kind,
  detail: "",
  takes: [],
  tick_units: 0,
  layer: null,
  cautions: [],
  limit_minutes: null,
  ...more,
});
const STEPS = [
  step("gather"),
  step("check", { tick_units: 3 }),
  step("pack", { layer: 0 }),
  step("pack", { layer: 1 }),
  step("weigh"),
  step("label"),
  step("hand_over"),
];

function bench(at: number, parcel: object = {}, more: Partial<Bench> = {}): Bench {
  const base = { steps: STEPS, weight_check: null, weight_settled: "", label: null, ...parcel };
  return {
    parcel: base as unknown as Bench["parcel"],
    at,
    ticks: 0,
    busy: false,
    offline: false,
    error: null,
    next: vi.fn(),
    back: vi.fn(),
    tick: vi.fn(),
    jump: vi.fn(),
    skipped: [],
    openBefore: vi.fn(() => []),
    goTo: vi.fn(),
    weigh: vi.fn(),
    settle: vi.fn(),
    buy: vi.fn(),
    agreed: null,
    agree: vi.fn(),
    record: vi.fn(),
    close: vi.fn(),
    giveBack: vi.fn(),
    track: vi.fn(),
    reopen: vi.fn(),
    ...more,
  };
}

describe("a label bought at another weight", () => {
  const charge = { bought_mg: 1_078_000, now_mg: 4_314_000, listed: "7.20", asked: "12.40" };
  const parcel = { label: { state: "bought" }, charge };
  const label = STEPS.findIndex((one) => one.kind === "label");
  const last = STEPS.length - 1;

  it("is not closed over: Space leads to the label, and waits there", () => {
    const one = bench(last, parcel);
    const next = nextAction(one, false, undefined, false);
    expect(next.words).toBe("See the label");
    next.run();
    expect(one.jump).toHaveBeenCalledWith("label");
    expect(nextAction(bench(label, parcel), false, undefined, false).off).toBe(true);
  });

  it("goes on once a person agreed to just that charge", () => {
    expect(
      nextAction(bench(last, parcel, { agreed: "12.40" }), false, undefined, false).words,
    ).toBe("Close the parcel");
    expect(nextAction(bench(last, parcel, { agreed: "9.00" }), false, undefined, false).words).toBe(
      "See the label",
    );
  });

  it("cannot be agreed to when the service does not take it", () => {
    const refused = { ...parcel, charge: { ...charge, asked: null } };
    expect(nextAction(bench(last, refused, { agreed: null }), false, undefined, false).words).toBe(
      "See the label",
    );
  });
});

const fine = { fine: true };
const off = { fine: false };

describe("what Space does next", () => {
  it("goes on, or ticks the next unit first", () => {
    expect(nextAction(bench(0), false, undefined, false).words).toBe("Done, next");
    expect(nextAction(bench(1, {}, { ticks: 1 }), false, undefined, false).words).toBe(
      "2 of 3 done",
    );
    expect(nextAction(bench(1, {}, { ticks: 3 }), false, undefined, false).words).toBe(
      "Done, next",
    );
  });

  it("takes a weight only when the scale has settled", () => {
    const one = bench(4);
    expect(nextAction(one, false, undefined, false).off).toBe(true);
    nextAction(one, true, undefined, false).run();
    expect(one.weigh).toHaveBeenCalledWith(null);
  });

  it("goes on from a weight that is as planned or settled, never from one that is not", () => {
    expect(nextAction(bench(4, { weight_check: fine }), true, undefined, false)).toMatchObject({
      words: "Weighed: next",
      off: false,
    });
    expect(nextAction(bench(4, { weight_check: off }), true, undefined, false)).toMatchObject({
      words: "Choose a reason",
      off: true,
    });
    expect(
      nextAction(
        bench(4, { weight_check: off, weight_settled: "Maren: accepted" }),
        true,
        undefined,
        false,
      ).words,
    ).toBe("Weighed: next");
  });

  it("weighs again when the packer asked for it", () => {
    expect(nextAction(bench(4, { weight_check: off }), true, undefined, true)).toMatchObject({
      words: "Take this weight",
      off: false,
    });
  });

  it("buys the label of the service picked, asks again when none answered, goes on when bought", () => {
    const one = bench(5);
    nextAction(one, false, "LARK-TWO", false).run();
    expect(one.buy).toHaveBeenCalledWith("LARK-TWO");
    expect(nextAction(bench(5), false, undefined, false).off).toBe(true);
    expect(nextAction(bench(5, { label: { state: "asked" } }), false, "X", false).words).toBe(
      "Ask again",
    );
    expect(nextAction(bench(5, { label: { state: "bought" } }), false, "X", false).words).toBe(
      "Label bought: next",
    );
  });

  it("closes at the last step, and not twice while it is busy", () => {
    const one = bench(6);
    nextAction(one, false, undefined, false).run();
    expect(one.close).toHaveBeenCalledOnce();
    expect(nextAction(bench(6, {}, { busy: true }), false, undefined, false).off).toBe(true);
  });
});

describe("how far the parcel is drawn", () => {
  it("counts the layers of the steps before", () => {
    expect([0, 2, 3, 4, 6].map((at) => lastLayerBefore(STEPS, at))).toEqual([0, 0, 1, 2, 2]);
  });
});

describe("openSteps", () => {
  it("names what is not done before the scale, and nothing the program keeps itself", () => {
    expect(openSteps(STEPS, "weigh", 1, [])).toEqual([1, 2, 3]);
    expect(openSteps(STEPS, "label", 1, [2])).toEqual([1, 3]);
    expect(openSteps(STEPS, "weigh", 4, [])).toEqual([]);
  });
  it("is told on the last key", () => {
    expect(nextAction(bench(6, {}, { skipped: [2, 3] }), false, undefined, false).words).toBe(
      "Close with 2 steps open",
    );
  });
});
