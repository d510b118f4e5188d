import { describe, expect, it } from "vitest";
import { fieldAt, ORDER, typedOf, type Typed } from "./typed";

const whole: Typed = {
  ...typedOf(null, "ALM"),
  buyer: "Ottilie Fenn",
  street: "2 Mill Lane",
  town: "Dunmere",
  postcode: "DM1 4",
  lines: [{ sku: "OAT-1", name: "Oat soap", quantity: "3", unit_price: "6,50" }],
};

describe("an order as it is typed", () => {
  it("becomes what is sent", () => {
    expect(ORDER.parse(whole)).toEqual({
      number: "",
      placed_on: null,
      buyer: "Ottilie Fenn",
      address: ["2 Mill Lane", "Dunmere"],
      postcode: "DM1 4",
      country: "ALM",
      note: "",
      postage_charged: "0",
      paid: true,
      gift: false,
      lines: [{ sku: "OAT-1", quantity: 3, unit_price: "6.50" }],
    });
  });

  it("needs a place and at least one product", () => {
    const read = ORDER.safeParse({ ...whole, town: " ", lines: [] });
    expect(read.error?.issues.map((one) => one.path.join("."))).toEqual(["town", "lines"]);
  });

  it("refuses what is no number of pieces, and asks about 1,200", () => {
    const wrong = (line: Partial<Typed["lines"][number]>) =>
      ORDER.safeParse({ ...whole, lines: [{ ...whole.lines[0], ...line }] }).error?.issues[0];
    expect(wrong({ quantity: "0" })?.path).toEqual(["lines", 0, "quantity"]);
    expect(wrong({ unit_price: "1,200" })?.message).toContain("may be");
  });

  it("puts the server's errors at their fields", () => {
    expect(fieldAt("order.lines[1].quantity")).toBe("lines.1.quantity");
    expect(fieldAt("lines.0.sku")).toBe("lines.0.quantity");
    expect(fieldAt("order.address[0]")).toBe("street");
    expect(fieldAt("order.buyer")).toBe("buyer");
    expect(fieldAt("request_key")).toBeNull();
  });
});
