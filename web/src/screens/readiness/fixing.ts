/** Where what is missing is fixed, and what the link there says. No React. */
import type { Schemas } from "../../api/client";

type Row = Schemas["ProductReadiness"];
type Place = Schemas["Lack"]["fix_at"];

const WORDS: Record<Place, string> = {
  product: "Enter it",
  recipe: "Open the recipe",
  cupboard: "To the cupboard",
  rates: "Open the recipe",
  trial: "Log a test",
  arrivals: "Look where",
};

export const fixWords = (row: Row, place: Place): string =>
  row.recipe_id === null && place !== "product" ? "Propose one" : WORDS[place];

export function fixPath(row: Row, place: Place): string {
  if (place === "cupboard") return "/cupboard";
  if (place === "arrivals") return `/arrivals?recipe=${row.recipe_id ?? ""}`;
  if (place === "product") return `/products?product=${row.product_id}`;
  return row.recipe_id === null
    ? `/recipes/new?product=${row.product_id}`
    : `/recipes/${row.recipe_id}`;
}
