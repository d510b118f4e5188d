/** A charge policy as it is typed, and the document it becomes. No React. */
import type { Schemas } from "../../api/client";
import { numberTextIn } from "../../domain/numbers";
import { readWeight, weightNumber, type UnitSystem } from "../../domain/units";

type Doc = Schemas["PolicyDoc"];
type Base = Doc["base"];
export type BaseKind = Base["kind"];

export interface Step {
  upTo: string;
  amount: string;
}

export interface TypedBase {
  kind: BaseKind;
  amount: string;
  percent: string;
  fixed: string;
  steps: Step[];
}

export interface TypedPolicy extends TypedBase {
  freeFrom: string;
  freeZones: string[];
  endings: string;
  /** Zones with a base of their own. */
  zones: { zone: string; base: TypedBase }[];
}

export const KIND_WORDS: Record<BaseKind, string> = {
  flat: "One fee for every order",
  by_weight: "By weight",
  by_value: "By what the goods are worth",
  by_carrier: "What the carrier takes, and more",
  pick_up: "Picked up or brought",
};

export const emptyBase = (amount = ""): TypedBase => ({
  kind: "flat",
  amount,
  percent: "0",
  fixed: "0",
  steps: [
    { upTo: "", amount: "" },
    { upTo: "", amount: "" },
  ],
});

export const emptyPolicy = (amount = ""): TypedPolicy => ({
  ...emptyBase(amount),
  freeFrom: "",
  freeZones: [],
  endings: "",
  zones: [],
});

function baseFrom(base: Base, system: UnitSystem): TypedBase {
  const empty = emptyBase();
  switch (base.kind) {
    case "flat":
    case "pick_up":
      return { ...empty, kind: base.kind, amount: String(base.amount ?? "0") };
    case "by_carrier":
      return {
        ...empty,
        kind: base.kind,
        percent: String(base.percent ?? "0"),
        fixed: String(base.fixed ?? "0"),
      };
    case "by_weight":
      return {
        ...empty,
        kind: base.kind,
        steps: base.steps.map((one) => ({
          upTo: weightNumber(one.up_to_mg, system),
          amount: String(one.amount),
        })),
      };
    case "by_value":
      return {
        ...empty,
        kind: base.kind,
        steps: base.steps.map((one) => ({
          upTo: String(one.from_value),
          amount: String(one.amount),
        })),
      };
  }
}

/** A kept document as it is typed. */
export function typedFrom(doc: Doc, system: UnitSystem): TypedPolicy {
  return {
    ...baseFrom(doc.base, system),
    freeFrom: doc.free_from == null ? "" : String(doc.free_from),
    freeZones: doc.free_zones ?? [],
    endings: (doc.endings ?? []).join(" "),
    zones: Object.entries(doc.zones ?? {}).map(([zone, base]) => ({
      zone,
      base: baseFrom(base, system),
    })),
  };
}

type Known<T> = { [K in keyof T]: NonNullable<T[K]> };

/** Rows whose every part is there; null while one part is missing. */
function whole<T extends object>(rows: T[]): Known<T>[] | null {
  return rows.every((row): row is T & Known<T> => Object.values(row).every((part) => part !== null))
    ? rows
    : null;
}

function baseOf(typed: TypedBase, system: UnitSystem): Base | null {
  const { kind } = typed;
  const filled = typed.steps.filter((one) => one.upTo.trim() || one.amount.trim());
  switch (kind) {
    case "flat":
    case "pick_up": {
      const amount = numberTextIn(typed.amount);
      return amount === null ? null : { kind, amount };
    }
    case "by_carrier": {
      const [percent, fixed] = [numberTextIn(typed.percent), numberTextIn(typed.fixed)];
      return percent === null || fixed === null ? null : { kind, percent, fixed };
    }
    case "by_weight": {
      const steps = whole(
        filled.map((one) => ({
          up_to_mg: readWeight(one.upTo, system),
          amount: numberTextIn(one.amount),
        })),
      );
      const weights = steps?.map((one) => one.up_to_mg) ?? [];
      return steps && (weights[0] ?? 0) > 0 && rising(weights) ? { kind, steps } : null;
    }
    case "by_value": {
      const steps = whole(
        filled.map((one) => ({
          from_value: numberTextIn(one.upTo),
          amount: numberTextIn(one.amount),
        })),
      );
      const values = steps?.map((one) => Number(one.from_value)) ?? [];
      return steps && values[0] === 0 && rising(values) ? { kind, steps } : null;
    }
  }
}

const rising = (values: number[]) =>
  values.every((value, at) => at === 0 || value > (values[at - 1] ?? value));

/** What is typed as a document; null while something is missing or no number. */
export function docOf(typed: TypedPolicy, system: UnitSystem): Doc | null {
  const base = baseOf(typed, system);
  const free_from = numberTextIn(typed.freeFrom);
  if (base === null || (free_from === null && typed.freeFrom.trim() !== "")) return null;
  const endings = typed.endings.split(/[\s;]+/).filter(Boolean);
  if (!endings.every((one) => /^0?[.,]\d{1,2}$/.test(one))) return null;
  const zones: Record<string, Base> = {};
  for (const { zone, base: own } of typed.zones) {
    const made = baseOf(own, system);
    if (made === null || zone === "") return null;
    zones[zone] = made;
  }
  return {
    code: "typed",
    name: "",
    base,
    zones,
    free_from,
    free_zones: typed.freeZones,
    endings: endings.map((one) => `0.${one.replace(/^0?[.,]/, "")}`),
  };
}
