/** Who is signed in, and how this workshop writes lengths, weights and money. */
import { createContext, useContext, useMemo, type ReactNode } from "react";
import type { Schemas } from "../api/client";
import { fixed } from "../domain/figures";
import {
  formatAmount,
  formatCubic,
  formatDivisor,
  formatLength,
  formatMoney,
  formatQuantity,
  formatSize,
  formatVolume,
  formatWeight,
  inStock,
  signedMoney,
  stockWord,
  editedAmount,
  editedPrice,
  toStock,
  weightUnit,
  type StockUnit,
  type UnitSystem,
} from "../domain/units";

export type Session = Schemas["SessionOut"];

const SessionContext = createContext<Session | null>(null);

export function SessionProvider({ session, children }: { session: Session; children: ReactNode }) {
  return <SessionContext.Provider value={session}>{children}</SessionContext.Provider>;
}

export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("useSession outside the signed-in part");
  return session;
}

export function useFormat() {
  const session = useSession();
  return useMemo(() => {
    const system: UnitSystem = session.unit_system === "imperial" ? "imperial" : "metric";
    const digits = session.money_digits;
    return {
      system,
      imperial: system === "imperial",
      weightUnit: (mg: number) => weightUnit(mg, system),
      stockUnit: (unit: StockUnit) => stockWord(unit, system),
      toStock: (typed: string, unit: StockUnit) => toStock(typed, unit, system),
      inStock: (quantity: string | number, unit: StockUnit) => inStock(quantity, unit, system),
      editedAmount: (kept: string | number | null, unit: StockUnit) =>
        editedAmount(kept, unit, system),
      editedPrice: (kept: string | number | null, unit: StockUnit) =>
        editedPrice(kept, unit, system),
      length: (um: number) => formatLength(um, system),
      size: (size: { length_um: number; width_um: number; height_um: number }) =>
        formatSize(size, system),
      volume: (litres: string | number) => formatVolume(Number(litres), system),
      cubic: (cm3: number) => formatCubic(cm3, system),
      divisor: (cm3PerKg: number) => formatDivisor(cm3PerKg, system),
      weight: (mg: number) => formatWeight(mg, system),
      money: (amount: string | number) => formatMoney(amount, digits),
      signed: (amount: string | number) => signedMoney(amount, digits),
      signedWeight: (mg: number) => `${mg > 0 ? "+" : ""}${formatWeight(mg, system)}`,
      /** More places than are ever paid, for what is only a share of a price. */
      exactMoney: (amount: string | number) => fixed(Number(amount), digits + 2),
      /** What one costs, or one m² or m: "0.4200 each", "1.1000 / m²". */
      unitCost: (amount: string | number, unit: StockUnit) => {
        const cost = fixed(Number(amount) / inStock(1, unit, system), digits + 2);
        return unit === "pieces" ? `${cost} each` : `${cost} / ${stockWord(unit, system)}`;
      },
      signedQuantity: (quantity: string | number, unit: StockUnit) =>
        `${Number(quantity) > 0 ? "+" : ""}${formatQuantity(quantity, unit, system)}`,
      quantity: (quantity: string | number, unit: StockUnit) =>
        formatQuantity(quantity, unit, system),
      amount: (value: string, unit: string) => formatAmount(value, unit, system, digits),
    };
  }, [session]);
}
