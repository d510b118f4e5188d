import { describe, expect, it } from "vitest";
import { stacked } from "../../drawings/dots";
import { changeWords, sizeWords, tipWords } from "./words";

const money = (amount: string | number) => Number(amount).toFixed(2);

describe("a change in words", () => {
  it("names what it is about", () => {
    const said = { kind: "without", name: "C-14", number: null, to: "" };
    expect(changeWords(said, money)).toBe("C-14 is gone");
    expect(changeWords({ ...said, kind: "wage", name: "", number: "18" }, money)).toBe(
      "the wage is 18.00 an hour",
    );
    expect(changeWords({ ...said, kind: "send_days", to: "0,3" }, money)).toBe(
      "parcels leave on Mon, Thu",
    );
    expect(changeWords({ ...said, kind: "charge", name: "", number: "3.79" }, money)).toBe(
      "every buyer pays 3.79",
    );
  });
});

describe("where it tips", () => {
  it("says one order in the singular", () => {
    const tip = {
      kind: "orders_a_month",
      at: "1",
      now: "0.4",
      keeping: "1.00",
      saves: "6.14",
    } as const;
    expect(tipWords(tip, money).title).toBe("It pays from 1 order a month");
  });
});

describe("sizes", () => {
  it("are said as people say them", () => {
    expect([sizeWords(1, 1), sizeWords(4, 6), sizeWords(13, null)]).toEqual([
      "1 piece",
      "4 to 6",
      "13 and more",
    ]);
  });
});

describe("dots", () => {
  it("lie in rows by their value, each row round its middle", () => {
    const dots = stacked([1, 1.2, 1.4, -0.5], (one) => one, 1);
    expect(dots.map((one) => one.row)).toEqual([1, 1, 1, -1]);
    expect(dots.filter((one) => one.row === 1).map((one) => one.across)).toEqual([-1, 0, 1]);
  });
});
