/** When an insert goes in, as a line a person can type: "first order; from 40; to ALM; 12-01 to 12-24". No DOM. */
import type { Schemas } from "../../api/client";

type When = Schemas["WhenDoc"];
const CODE = "[A-Za-z0-9][A-Za-z0-9._-]{0,29}";
const DAY = "(?:0[1-9]|1[0-2])-(?:0[1-9]|[12][0-9]|3[01])";
const ALLOWED =
  "always, or with semicolons between: first order, later orders, gift, no gift, from 40, with SKU, without SKU, to ALM BEL, 12-01 to 12-24";

export function conditionText(when: When | null): string {
  if (!when) return "always";
  const parts = [
    when.first_order === true ? "first order" : when.first_order === false ? "later orders" : "",
    when.gift === true ? "gift" : when.gift === false ? "no gift" : "",
    when.least_value ? `from ${Number(when.least_value)}` : "",
    when.with_goods ? `with ${when.with_goods}` : "",
    when.without_goods ? `without ${when.without_goods}` : "",
    when.countries && when.countries.length > 0 ? `to ${when.countries.join(" ")}` : "",
    when.season ? `${when.season[0] ?? ""} to ${when.season[1] ?? ""}` : "",
  ].filter(Boolean);
  return parts.join("; ") || "always";
}

/** The condition of a text, or in words what is allowed. */
export function readCondition(text: string): { value: When | null } | string {
  const parts = text
    .split(";")
    .map((part) => part.trim())
    .filter(Boolean);
  if (parts.length === 0 || (parts.length === 1 && parts[0] === "always")) return { value: null };
  let when: When = {
    first_order: null,
    gift: null,
    least_value: null,
    with_goods: null,
    without_goods: null,
    countries: [],
    season: null,
  };
  for (const part of parts) {
    const [value, withGoods, without, season] = [
      /^from (\d{1,6}(?:[.,]\d{1,2})?)$/,
      new RegExp(`^with (${CODE})$`),
      new RegExp(`^without (${CODE})$`),
      new RegExp(`^(${DAY}) to (${DAY})$`),
    ].map((pattern) => pattern.exec(part));
    if (part === "first order" || part === "later orders")
      when = { ...when, first_order: part === "first order" };
    else if (part === "gift" || part === "no gift") when = { ...when, gift: part === "gift" };
    else if (value) when = { ...when, least_value: (value[1] ?? "").replace(",", ".") };
    else if (withGoods) when = { ...when, with_goods: withGoods[1] ?? "" };
    else if (without) when = { ...when, without_goods: without[1] ?? "" };
    else if (season) when = { ...when, season: [season[1] ?? "", season[2] ?? ""] };
    else if (/^to [A-Z]{3}( [A-Z]{3})*$/.test(part))
      when = { ...when, countries: part.slice(3).split(" ") };
    else return ALLOWED;
  }
  return { value: when };
}
