import { describe, expect, it } from "vitest";
import {
  editedAmount,
  editedPrice,
  formatAmount,
  formatLength,
  formatMoney,
  formatQuantity,
  formatSize,
  formatWeight,
  readLength,
  readSize,
  shortQuantity,
  signedMoney,
  stockWord,
  toStock,
} from "./units";

describe("what people are shown", () => {
  it("lengths are whole millimetres or tenths of an inch", () => {
    expect(formatLength(260_350, "metric")).toBe("260 mm");
    expect(formatLength(260_350, "imperial")).toBe("10.3 in");
    expect(
      formatSize({ length_um: 320_000, width_um: 230_000, height_um: 150_000 }, "metric"),
    ).toBe("320 x 230 x 150 mm");
    expect(
      formatSize({ length_um: 254_000, width_um: 127_000, height_um: 25_400 }, "imperial"),
    ).toBe("10.0 x 5.0 x 1.0 in");
  });

  it("weights are grams below a kilogram, kilograms with three places above, or pounds and ounces", () => {
    expect([420_400, 999_400, 999_600, 2_381_000].map((mg) => formatWeight(mg, "metric"))).toEqual([
      "420 g",
      "999 g",
      "1.000 kg",
      "2.381 kg",
    ]);
    expect([28_350, 453_592, 674_719].map((mg) => formatWeight(mg, "imperial"))).toEqual([
      "1.0 oz",
      "1 lb 0.0 oz",
      "1 lb 7.8 oz",
    ]);
    expect(formatWeight(-1_500_000, "metric")).toBe("-1.500 kg");
  });

  it("money keeps its digits and differences carry a sign", () => {
    expect(formatMoney("5.8", 2)).toBe("5.80");
    expect(formatMoney("1240", 0)).toBe("1240");
    expect([signedMoney("3.62"), signedMoney("-0.5"), signedMoney("0")]).toEqual([
      "+3.62",
      "-0.50",
      "0.00",
    ]);
  });

  it("quantities never show more places than mean anything", () => {
    expect(formatQuantity("64.000000", "pieces", "metric")).toBe("64");
    expect([
      formatQuantity("1240.4", "l", "metric"),
      formatQuantity("88.54", "m2", "metric"),
      formatQuantity("0.1438", "m2", "metric"),
    ]).toEqual(["1240 l", "88.5 m²", "0.14 m²"]);
    expect([
      shortQuantity("88.54", "m2", "metric"),
      shortQuantity("3.26", "m", "metric"),
      shortQuantity("7", "pieces", "metric"),
    ]).toEqual(["89 m²", "3.3 m", "7"]);
    expect([stockWord("pieces", "metric"), stockWord("l", "imperial")]).toEqual([
      "pieces",
      "cu ft",
    ]);
    expect([formatQuantity("10", "m", "imperial"), toStock("10", "m", "imperial")]).toEqual([
      "32.8 ft",
      "3.048000",
    ]);
  });

  it("the lines of a sum follow their unit", () => {
    const shown = (value: string, unit: string) => formatAmount(value, unit, "metric", 2);
    expect([
      shown("326000", "um"),
      shown("161830", "mg"),
      shown("4.2", "l"),
      shown("0.1438", "m2"),
      shown("1.916", "m"),
      shown("1.5", "percent"),
      shown("7", "minutes"),
    ]).toEqual(["326 mm", "162 g", "4.20 l", "0.144 m²", "1.92 m", "1.5 %", "7 min"]);
    expect([shown("0.0316", "money"), shown("12.4", "money"), shown("0", "money")]).toEqual([
      "0.0316",
      "12.40",
      "0.00",
    ]);
  });
});

describe("what people type", () => {
  it("a length takes its unit, or the shown one when bare", () => {
    expect([
      readLength("32", "metric"),
      readLength("3,2 cm", "metric"),
      readLength("2", "imperial"),
      readLength("1.5in", "metric"),
    ]).toEqual([32_000, 32_000, 50_800, 38_100]);
  });

  it("what is no length is refused", () => {
    for (const text of ["", "two", "-4", "4 furlongs", "4 5", "1e3"])
      expect(readLength(text, "metric")).toBeNull();
  });
});

describe("fractions of an inch", () => {
  it("are read as they stand on a rule", () => {
    expect(readLength("8 1/2 in", "metric")).toBe(215_900);
    expect(readSize("12 x 8 1/2 x 6 1/4", "imperial")).toEqual([304_800, 215_900, 158_750]);
    expect(readLength("1/0", "imperial")).toBeNull();
  });
});

describe("what is kept, as it is edited", () => {
  it("untouched it stays the same to the last digit", () => {
    const sack = editedAmount("250.000000", "l", "imperial");
    expect(sack.shown).toBe("8.828667");
    expect(sack.kept(sack.shown)).toBe("250.000000");
    const price = editedPrice("0.029", "l", "imperial");
    expect(price.kept(price.shown)).toBe("0.029");
  });

  it("typed it is meant in the shown unit", () => {
    expect(editedAmount("250", "l", "imperial").kept("9")).toBe("254.851623");
    expect(Number(editedPrice(null, "m", "imperial").kept("0.30"))).toBeCloseTo(0.984252, 5);
    expect(editedAmount(null, "pieces", "metric").kept("12")).toBe("12");
    expect(editedAmount("3", "pieces", "metric").kept("")).toBe("0");
  });

  it("what is no number goes as it was typed, to be refused by name", () => {
    expect(editedAmount("250", "l", "imperial").kept("many")).toBe("many");
    expect(editedPrice("1", "m", "imperial").kept("cheap")).toBe("cheap");
  });
});
