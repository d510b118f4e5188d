/** One field of a supply: how it is asked, and where it stands in the facts. No React. */

/** Everything typed, by field; ticks are "yes" or "". */
export type Typed = Record<string, string>;

export interface Base {
  /** Where it stands in the facts: "inner.length_um". */
  key: string;
  label: string;
  /** How to measure it, in one sentence. */
  how?: string;
  /** May be left empty. */
  optional?: boolean;
  /** What is filled in for a new one. */
  begins?: string;
  /** Asked only where what is typed so far says so. */
  when?: (typed: Typed) => boolean;
}
/** How a figure is written where inches and pounds count: its unit, and how many of ours one is. */
interface Other {
  unit: string;
  times: number;
}
export type FieldOf =
  | (Base & { is: "length" | "weight" })
  | (Base & {
      is: "number";
      unit?: string;
      times?: number;
      imperial?: Other;
      whole?: boolean;
      signed?: boolean;
    })
  | (Base & { is: "tick" })
  | (Base & { is: "pick"; options: readonly (readonly [string, string])[] });

export const length = (key: string, label: string, more: Partial<Base> = {}): FieldOf => ({
  key,
  label,
  is: "length",
  ...more,
});
export const weight = (key: string, label: string, more: Partial<Base> = {}): FieldOf => ({
  key,
  label,
  is: "weight",
  ...more,
});

export type Facts = Record<string, unknown>;

export const at = (facts: unknown, key: string): unknown =>
  key
    .split(".")
    .reduce<unknown>((inside, part) => (inside as Facts | null | undefined)?.[part], facts);
