import { flagRows } from "./DayPosts";
import { describe, expect, it } from "vitest";
import { spread } from "./labels";
import { windowOf } from "./Ruler";
import { slotScale } from "./Slot";
import { cartonAt } from "./cartons";
import { frameOf, paintOrder, project, units, type Unit } from "./slant";
import type { BoxSize, Drawn, Layer, Placed } from "./types";

const block = (
  index: number,
  at: [number, number, number],
  size: [number, number, number] = [10, 10, 10],
): Unit => ({ index, name: `u${index}`, at, size });

describe("labels beside a drawing", () => {
  it("stay where they point when there is room", () => {
    expect(
      spread(
        [
          { index: 0, y: 300 },
          { index: 1, y: 100 },
        ],
        20,
        10,
        340,
      ).map((one) => one.y),
    ).toEqual([300, 100]);
  });

  it("push each other apart, keep their order and stay inside", () => {
    const placed = spread(
      [0, 1, 2, 3, 4].map((index) => ({ index, y: 20 })),
      27,
      16,
      338,
    );
    const ys = placed.map((one) => one.y);
    for (let i = 1; i < ys.length; i += 1)
      expect((ys[i - 1] ?? 0) - (ys[i] ?? 0)).toBeGreaterThanOrEqual(27 - 1e-9);
    expect(Math.min(...ys)).toBeGreaterThanOrEqual(16);
    expect(Math.max(...ys)).toBeLessThanOrEqual(338);
    expect(placed.map((one) => one.index)).toEqual([0, 1, 2, 3, 4]);
  });

  it("squeeze rather than fall out when there are too many", () => {
    const ys = spread(
      Array.from({ length: 40 }, (_, index) => ({ index, y: 170 })),
      27,
      16,
      338,
    ).map((one) => one.y);
    expect(Math.min(...ys)).toBeGreaterThanOrEqual(16 - 1e-6);
    expect(Math.max(...ys)).toBeLessThanOrEqual(338 + 1e-6);
  });
});

describe("the slanted view", () => {
  it("paints what stands behind or below first", () => {
    const order = paintOrder([
      block(0, [20, 20, 0]),
      block(1, [0, 0, 0]),
      block(2, [0, 0, 10]),
      block(3, [20, 0, 0]),
    ]).map((unit) => unit.index);
    const before = (a: number, b: number) => order.indexOf(a) < order.indexOf(b);
    expect(before(1, 2)).toBe(true);
    expect(before(1, 0)).toBe(true);
    expect(before(3, 0)).toBe(true);
    expect(order).toHaveLength(4);
  });

  it("paints a long block behind a short one although its corner is nearer", () => {
    const long = block(0, [0, 0, 0], [100, 10, 10]);
    const short = block(1, [0, 20, 0], [10, 10, 10]);
    expect(paintOrder([short, long]).map((unit) => unit.index)).toEqual([0, 1]);
  });

  it("keeps every block even when they form a ring", () => {
    const ring = [
      block(0, [0, 0, 0], [20, 10, 10]),
      block(1, [20, 0, 0], [10, 20, 10]),
      block(2, [10, 20, 0], [20, 10, 10]),
      block(3, [0, 10, 0], [10, 20, 10]),
    ];
    expect(new Set(paintOrder(ring).map((unit) => unit.index)).size).toBe(4);
  });

  it("fits any box into the drawing", () => {
    for (const size of [
      [560, 400, 300],
      [100, 900, 50],
      [50, 50, 900],
    ] as [number, number, number][]) {
      const { point } = project(size, 490, 334);
      const [l, w, h] = size;
      for (const [x, y] of [
        point(0, 0, 0),
        point(l, 0, 0),
        point(0, w, 0),
        point(l, w, 0),
        point(0, 0, h),
        point(l, w, h),
      ]) {
        expect(x).toBeGreaterThanOrEqual(74);
        expect(x).toBeLessThanOrEqual(566);
        expect(y).toBeGreaterThanOrEqual(17);
        expect(y).toBeLessThanOrEqual(353);
      }
    }
  });

  it("lays the contents of a mailer in its middle and stands those of a carton where they are", () => {
    const size = (length_um: number, width_um: number, height_um: number) => ({
      length_um,
      width_um,
      height_um,
    });
    const parcel: Drawn = {
      container: "M",
      kind: "mailer",
      inner: size(142, 96, 34),
      outer: size(272, 222, 40),
      wall_um: 3,
      floor_um: 0,
      top_um: 34,
      placements: [],
    };
    expect(frameOf(parcel)).toEqual({ size: [272, 222, 34], inset: [65, 63] });
    expect(frameOf({ ...parcel, kind: "carton" })).toEqual({ size: [142, 96, 34], inset: [0, 0] });
    expect(frameOf({ ...parcel, outer: parcel.inner })).toEqual({
      size: [142, 96, 34],
      inset: [0, 0],
    }); // two cartons, strapped
  });

  it("shows the units of an inner carton where it stands in the outer, turned with it", () => {
    const size = (length_um: number, width_um: number, height_um: number) => ({
      length_um,
      width_um,
      height_um,
    });
    const parcel: Drawn = {
      container: "C",
      kind: "carton",
      inner: size(400, 300, 200),
      wall_um: 3,
      floor_um: 25,
      top_um: 125,
      placements: [{ unit: "I", at_um: [30, 40, 25], size_um: [100, 206, 100] }],
      nested: {
        code: "I",
        name: "Inner",
        inner: size(200, 94, 94),
        outer: size(206, 100, 100),
        placements: [{ unit: "jar", at_um: [10, 20, 0], size_um: [80, 50, 90] }],
      },
    };
    expect(units(parcel)).toEqual([
      { index: 0, name: "jar", at: [30 + 3 + 20, 40 + 3 + 10, 25 + 3], size: [50, 80, 90] },
    ]);
  });
});

describe("ruler and slot", () => {
  const steps = [1, 2, 3, 5, 10].map((kg) => ({ upTo: kg, price: String(kg) }));

  it("shows the step before, the own one and the one after", () => {
    expect(windowOf(steps, 2.5).shown.map((step) => step.upTo)).toEqual([2, 3, 5]);
    expect(windowOf(steps, 2.5).from).toBe(1);
    expect(windowOf(steps, 0.5).shown.map((step) => step.upTo)).toEqual([1, 2]);
    expect(windowOf(steps, 99).shown.map((step) => step.upTo)).toEqual([5, 10]);
  });

  it("a value on a step belongs to it", () => {
    expect(windowOf(steps, 3).shown.map((step) => step.upTo)).toEqual([2, 3, 5]);
  });

  it("a slot is full at three times its mark, or at what lies in it", () => {
    expect([slotScale(10, 20), slotScale(100, 20), slotScale(0, null), slotScale(-4, 2)]).toEqual([
      60, 100, 1, 6,
    ]);
  });
});

describe("a parcel of two cartons strapped together", () => {
  const layer = (title: string, carton: number, kind: Layer["kind"] = "units"): Layer => ({
    kind,
    title,
    detail: "",
    from_um: 0,
    to_um: 1,
    placements: [],
    carton,
  });
  const layers = [
    layer("first", 0),
    layer("second", 1),
    layer("second, on top", 1),
    layer("strap", 0, "strap"),
  ];
  const outer = { length_um: 500, width_um: 300, height_um: 200 };
  const placements = [
    { unit: "one", at_um: [0, 0, 0], size_um: [300, 300, 200] },
    { unit: "two", at_um: [300, 0, 0], size_um: [200, 300, 200] },
  ];
  interface Plain {
    code: string;
    outer: BoxSize;
    inner?: BoxSize;
    placements?: readonly Placed[];
  }
  const parcel = {
    code: "both",
    outer,
    strapped: {
      cartons: [{ candidate: { code: "one", outer } }, { candidate: { code: "two", outer } }],
      placements,
    },
  };

  it("shows the carton the layer lies in with its own layers", () => {
    const view = cartonAt<Plain>(parcel, layers, 2);
    expect([view.drawn.code, view.layers.map((one) => one.title), view.at]).toEqual([
      "two",
      ["second", "second, on top"],
      1,
    ]);
    expect(cartonAt<Plain>(parcel, layers, 0).layers.map((one) => one.title)).toEqual(["first"]);
  });
  it("shows both from outside when they are strapped", () => {
    const view = cartonAt<Plain>(parcel, layers, 3);
    expect([view.drawn.inner, view.drawn.placements, view.layers[0]?.placements, view.at]).toEqual([
      outer,
      placements,
      [0, 1],
      0,
    ]);
  });
  it("is the only carton of a plain parcel", () => {
    const view = cartonAt<Plain>({ code: "plain", outer }, layers.slice(0, 1), 0);
    expect([view.drawn.code, view.at]).toEqual(["plain", 0]);
  });
});

describe("the flags of the day's hand-overs", () => {
  it("stand in one row where they are clear of each other, and below each other where not", () => {
    expect(flagRows([0, 190, 300, 400])).toEqual([0, 0, 1, 0]);
    expect(flagRows([0, 10, 20])).toEqual([0, 1, 2]);
    expect(flagRows([])).toEqual([]);
  });
});
