import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { coverWords, sumWords, surchargeWords, volumetricOf, volumetricWords } from "./tables";

const format = {
  length: (um: number) => `${um / 1000} mm`,
  weight: (mg: number) => `${mg / 1_000_000} kg`,
  cubic: (cm3: number) => `${cm3} cm3`,
  divisor: (divisor: number) => String(divisor),
  money: (amount: string | number) => Number(amount).toFixed(2),
};
const service = (more: object) => more as Schemas["ServiceDoc"];
const surcharge = (more: object) => more as Schemas["SurchargeDoc"];

describe("a service in words", () => {
  it("says how size counts, by rule", () => {
    const one = { divisor_cm3_per_kg: 5000, round_up_um: 10_000, above_cm3: 0, rounding: "up" };
    expect(volumetricOf(service({}))).toEqual([]);
    expect(volumetricOf(service({ volumetric: one }))).toHaveLength(1);
    const [, second] = volumetricOf(
      service({ volumetric: [one, { ...one, zones: ["2"], formats: ["L"], above_cm3: 9 }] }),
    );
    expect(second && volumetricWords(second, format)).toBe(
      "L x W x H / 5000, sides up to a whole 10 mm; above 9 cm3; zones 2; classes L",
    );
  });

  it("says what a surcharge comes to and when", () => {
    expect(
      surchargeWords(surcharge({ kind: "percent", amount: "8", of: "base" }), "always", format),
    ).toBe("8 % of the base: always");
    expect(
      surchargeWords(
        surcharge({
          kind: "per_weight",
          amount: "0.2",
          each_mg: 500_000,
          least: "1",
          most: "3",
          group: "size",
          tax_percent: "0",
        }),
        "weight above 5 kg",
        format,
      ),
    ).toBe(
      "+ 0.20 for each begun 0.5 kg: weight above 5 kg; at least 1.00; at most 3.00; only the highest of size; taxed 0 %",
    );
  });

  it("says cover in steps, tiers and percent", () => {
    const cover = (extra_cover: object) =>
      coverWords(service({ cover_included: "50", extra_cover }), format).join("; ");
    expect(cover({ each: "100", price: "2", most: "500" })).toBe(
      "50.00 included; 2.00 for each 100.00 more, up to 500.00",
    );
    expect(cover({ tiers: [{ up_to: "100", price: "1" }], most: "100" })).toContain(
      "up to 100.00 for 1.00",
    );
    expect(cover({ percent: "1.5", least: "1", most: "900", of: "excess" })).toContain(
      "1.5 % of what is above, at least 1.00, up to 900.00",
    );
  });

  it("says discount, further parcels, taxes and rounding, and nothing where there is none", () => {
    expect(sumWords(service({}), format).every(([, lines]) => lines.length === 0)).toBe(true);
    const said = Object.fromEntries(
      sumWords(
        service({
          discount: { percent: "10", of: "all" },
          further: { percent: "60", off: "0.1" },
          tax_percent: "20",
          taxes: [{ percent: "0", countries: ["VEL"], zones: ["3"] }],
          round_total: { to: "0.05", rounding: "up" },
        }),
        format,
      ),
    );
    expect(said).toEqual({
      Discount: ["10 % of all"],
      "Further parcels": ["60 % of the base, less 0.10"],
      Tax: ["0 % to VEL, zone 3", "20 % to all others"],
      Rounding: ["the sum up to a multiple of 0.05"],
    });
  });
});
