import { expect, it } from "vitest";
import { goodsFrom, goodsText } from "./fitGoods";

it("goods stand in the address and come back", () => {
  const goods = [
    { product_id: 12, units: 2 },
    { product_id: 15, units: 1 },
  ];
  expect(goodsFrom(goodsText(goods))).toEqual(goods);
  expect(goodsFrom("12x2 12x3 nonsense 9x900")).toEqual([
    { product_id: 12, units: 2 },
    { product_id: 9, units: 100 },
  ]);
});
