/** Reads what was typed into a price list, and gathers what cannot be read: at which part of the screen, what. No React. */
import { numberText } from "../../domain/numbers";
import { readLength, readWeight, type UnitSystem } from "../../domain/units";
import { CM3_PER_IN3, CM3_PER_KG_OF_ONE } from "./typedList";

export interface Unread {
  at: string;
  words: string;
}

export class Reader {
  readonly unread: Unread[] = [];
  readonly exact: Record<string, number>;
  readonly system: UnitSystem;
  constructor(exact: Record<string, number>, system: UnitSystem) {
    this.exact = exact;
    this.system = system;
  }
  weight(typed: string, at: string): number | null {
    const example = this.system === "imperial" ? "12 oz" : "500 g or 2 kg";
    return this.#read(typed, at, readWeight, example);
  }
  length(typed: string, at: string): number | null {
    return this.#read(typed, at, readLength, this.system === "imperial" ? "24 in" : "60 cm");
  }
  divisor(typed: string, at: string): number | null {
    return this.#scaled("divisor", typed, at, CM3_PER_KG_OF_ONE);
  }
  cubic(typed: string, at: string): number | null {
    return this.#scaled("cubic", typed, at, CM3_PER_IN3);
  }
  /** A measure by the ending of its name. */
  measure(name: string, typed: string, at: string): number | null {
    if (name.endsWith("_mg")) return this.weight(typed, at);
    return name.endsWith("_cm3") ? this.cubic(typed, at) : this.length(typed, at);
  }
  whole(typed: string, at: string): number | null {
    const plain = typed.trim();
    if (plain === "") return null;
    if (/^\d{1,9}$/.test(plain)) return Number(plain);
    return this.wrong(at, `“${plain}” is no whole number.`);
  }
  /** An amount, or null for none. */
  amount(typed: string): string | null {
    return numberText(typed) || null;
  }
  wrong(at: string, words: string): null {
    this.unread.push({ at, words });
    return null;
  }
  #scaled(kind: string, typed: string, at: string, factor: number): number | null {
    const known = this.exact[`${kind} ${typed.trim()}`];
    if (known !== undefined) return known;
    const found = this.whole(typed, at);
    return found === null || this.system === "metric" ? found : Math.round(found * factor);
  }
  #read(
    typed: string,
    at: string,
    read: (typed: string, system: UnitSystem) => number | null,
    example: string,
  ): number | null {
    const plain = typed.trim();
    if (plain === "") return null;
    const value = this.exact[plain] ?? read(plain, this.system);
    if (value === null)
      this.unread.push({ at, words: `“${plain}” cannot be read. Write ${example}.` });
    return value;
  }
}
