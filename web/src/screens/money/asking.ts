/** A change as it is typed, and what is sent for it. No React. */
import type { Schemas } from "../../api/client";
import { numberTextIn } from "../../domain/numbers";
import { readLength, type UnitSystem } from "../../domain/units";

export type ChangeIn = Schemas["WhatIfAsked"]["changes"][number];
export type ChangeKind = ChangeIn["kind"];

/** What can be changed, as it stands in the list. */
export const CHANGE_WORDS: Record<ChangeKind, string> = {
  wage: "Another wage",
  without: "A carton or mailer is gone",
  new_carton: "A new size of carton",
  price_list: "A price list",
  version: "Another version of a recipe",
  instead: "Another wrap, fill or carton instead",
  supply_price: "Another price of a supply",
  damage: "More or fewer of a recipe break",
  minutes: "A recipe takes more or fewer minutes",
  charge: "Buyers are charged otherwise",
  services: "Only some services",
  send_days: "Parcels leave on other days",
};

export interface Typed {
  kind: ChangeKind;
  /** Codes and ids chosen from lists. */
  code: string;
  other: string;
  id: string;
  number: string;
  size: string[];
  days: number[];
  codes: string[];
}

export const emptyChange = (kind: ChangeKind = "wage"): Typed => ({
  kind,
  code: "",
  other: "",
  id: "",
  number: "",
  size: ["", "", ""],
  days: [],
  codes: [],
});

/** A change that can be sent; null while something is missing. */
export function changeOf(typed: Typed, system: UnitSystem): ChangeIn | null {
  const { kind, code, other, id } = typed;
  const number = numberTextIn(typed.number);
  switch (kind) {
    case "wage":
      return number === null ? null : { kind, per_hour: number };
    case "without":
      return code ? { kind, code } : null;
    case "supply_price":
      return code && number !== null ? { kind, code, unit_cost: number } : null;
    case "instead":
      return code && other && code !== other ? { kind, old: code, new: other } : null;
    case "price_list":
      return id ? { kind, tariff_id: Number(id) } : null;
    case "version":
      return id && number !== null && /^\d+$/.test(number)
        ? { kind, recipe_id: Number(id), number: Number(number) }
        : null;
    case "damage":
    case "minutes":
      return id && number !== null ? { kind, recipe_id: Number(id), percent: number } : null;
    case "charge":
      if (id) return { kind, policy_id: Number(id), flat: null, free_from: null };
      return number === null ? null : { kind, policy_id: null, flat: number, free_from: null };
    case "services":
      return { kind, codes: typed.codes };
    case "send_days":
      return typed.days.length > 0 ? { kind, days: [...typed.days].sort() } : null;
    case "new_carton": {
      const [length_um, width_um, height_um] = typed.size.map((side) => readLength(side, system));
      if (!length_um || !width_um || !height_um) return null;
      if (number === null && typed.number.trim() !== "") return null;
      return { kind, length_um, width_um, height_um, unit_cost: number };
    }
  }
}

/** A change as another screen hands it over in the address: ?kind=without&code=C-14. */
export function changeFrom(params: URLSearchParams): Typed | null {
  const kind = params.get("kind");
  if (kind === null || !(kind in CHANGE_WORDS)) return null;
  return {
    ...emptyChange(kind as ChangeKind),
    code: params.get("code") ?? "",
    id: params.get("id") ?? "",
    number: params.get("number") ?? "",
  };
}
