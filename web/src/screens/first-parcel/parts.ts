/** The parts of a first parcel: their words, and where each is done. No React. */
import type { Schemas } from "../../api/client";

export type Part = Schemas["FirstPartOut"];

interface Words {
  /** What it is. */
  name: string;
  /** Why it is needed, and what is done. */
  need: string;
  /** The screen it is done on. */
  at: string;
}

export const PART_WORDS: Record<string, Words> = {
  tape: { name: "Tape", need: "Closes the carton.", at: "Cupboard" },
  product: {
    name: "Product",
    need: "One thing you sell: measure it, weigh it.",
    at: "Products",
  },
  wrap: { name: "Wrap", need: "Goes round each piece.", at: "Cupboard" },
  fill: { name: "Fill", need: "Takes up the void, so that nothing moves.", at: "Cupboard" },
  carton: { name: "Carton", need: "Two or three sizes do for a start.", at: "Cupboard" },
  recipe: {
    name: "Recipe",
    need: "How the product is packed. One is proposed from what you have; change what you like.",
    at: "Recipes",
  },
  price_list: {
    name: "Price list",
    need: "What a carrier asks, by weight and place. Type in one service, or import a file.",
    at: "Rates",
  },
  order: { name: "Order", need: "One typed in to try, or a file from your shop.", at: "Orders" },
  packed: { name: "Packed", need: "At the bench: wrap, fill, weigh, label, close.", at: "Bench" },
};

/** In the order of the drawing, from the top of the parcel down. */
export const IN_THE_PARCEL = ["tape", "product", "wrap", "fill", "carton"] as const;
/** What comes after, one on another. */
export const AFTERWARDS = ["price_list", "recipe", "order", "packed"] as const;

const LACKS: Record<string, string> = {
  stock: "none on the shelf",
  size: "needs size and weight",
  held: "held: see why",
  product: "no product uses it",
};

export const lackWords = (part: Part): string => LACKS[part.lacks] ?? "";

/** Where a part is done, or seen when it is there. */
export function pathOf(part: Part): string {
  const { code, id } = part;
  if (["carton", "wrap", "fill", "tape"].includes(code))
    return id === null ? `/cupboard?new=${code}` : `/cupboard?supply=${id}`;
  if (code === "product") return id === null ? "/products?new=1" : `/products?product=${id}`;
  if (code === "recipe") {
    if (part.there) return `/recipes/${id}`;
    return id === null ? "/recipes/new" : `/recipes/new?product=${id}`;
  }
  if (code === "price_list") return id === null ? "/rates/tariffs/new" : "/rates/tariffs";
  if (code === "order") return id === null ? "/orders/new" : `/plan/${id}`;
  return id === null ? "/bench" : `/plan/${id}`;
}

/** What to do next: from the goods outwards, the way the work goes. */
const ORDER_OF_WORK = [
  "product", "carton", "wrap", "fill", "tape", "price_list", "recipe", "order", "packed",
]; // prettier-ignore

export function nextOf(parts: readonly Part[]): Part | undefined {
  const left = parts.filter((part) => !part.there);
  return ORDER_OF_WORK.map((code) => left.find((part) => part.code === code)).find(Boolean);
}

export const actionOf = (part: Part): string => {
  if (part.lacks === "stock") return `Count ${part.name}`;
  if (part.lacks === "size") return `Measure ${part.name}`;
  if (part.lacks === "held") return "See why the order is held";
  return {
    product: "Add your first product",
    carton: "Add a carton",
    wrap: "Add a wrap",
    fill: "Add a fill",
    tape: "Add a tape",
    recipe: "Propose a recipe",
    price_list: "Type in a price list",
    order: "Type in an order",
    packed: "Plan and pack it",
  }[part.code] as string;
};
