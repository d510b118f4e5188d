/** Goods in the address: "12x2 15x1", product by unit. No React. */
import type { Schemas } from "../../api/client";

type Goods = Schemas["FitGoods"][];

export const goodsText = (goods: Goods): string =>
  goods.map((one) => `${one.product_id}x${one.units ?? 1}`).join(" ");

export function goodsFrom(text: string): Goods {
  const found: Goods = [];
  for (const [, id, units] of text.matchAll(/(\d{1,9})x(\d{1,3})/g)) {
    const product_id = Number(id);
    if (!found.some((one) => one.product_id === product_id))
      found.push({ product_id, units: Math.min(100, Math.max(1, Number(units))) });
  }
  return found.slice(0, 12);
}
