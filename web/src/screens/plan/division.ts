/** How a person divides an order: so many parcels, or which units go into which. No React. */
import type { Schemas } from "../../api/client";

export interface Division {
  parcels: number | null;
  shares: number[][] | null;
} // shares[parcel][line of the order]

export const MOST_PARCELS = 12;

interface Line {
  sku: string;
  title: string;
  quantity: number;
}
interface Data {
  order: { lines: Line[] };
  plan: Schemas["OrderPlanOut"]["plan"];
}

/** The order's goods, one row a sku. */
export function goodsRows(data: Data): Line[] {
  const rows = new Map<string, Line>();
  for (const line of data.order.lines)
    rows.set(line.sku, { ...line, quantity: line.quantity + (rows.get(line.sku)?.quantity ?? 0) });
  return [...rows.values()];
}

type ShareLine = Schemas["ShareLine"];

export const countsOf = (data: Data, shares: readonly (readonly ShareLine[])[]): number[][] =>
  shares.map((share) =>
    goodsRows(data).map((row) => share.find((line) => line.sku === row.sku)?.units ?? 0),
  );

export const sharesOf = (data: Data, counts: readonly (readonly number[])[]): ShareLine[][] =>
  counts
    .map((own) =>
      goodsRows(data).flatMap((row, index) =>
        own[index] ? [{ sku: row.sku, units: own[index] }] : [],
      ),
    )
    .filter((share) => share.length > 0);

/** Where to begin: as the order is planned now, or the first line in a parcel of its own. */
export function firstShares(data: Data): number[][] {
  const chosen = data.plan.status === "planned" ? data.plan.ways[0] : undefined;
  if (chosen && chosen.parcels.length > 1)
    return countsOf(
      data,
      chosen.parcels.map((one) => one.goods),
    );
  const rows = goodsRows(data);
  const first =
    rows.length > 1 ? (rows[0]?.quantity ?? 0) : Math.ceil((rows[0]?.quantity ?? 0) / 2);
  return [
    rows.map((_, index) => (index === 0 ? first : 0)),
    rows.map((row, index) => (index === 0 ? row.quantity - first : row.quantity)),
  ];
}

/** Move units of one line to another parcel: the rest of the line is taken from the parcels after it, then before. */
export function withCount(
  data: Data,
  shares: readonly (readonly number[])[],
  parcel: number,
  line: number,
  units: number,
): number[][] {
  const total = goodsRows(data)[line]?.quantity ?? 0;
  const next = shares.map((own) => [...own]);
  const mine = next[parcel];
  if (!mine) return next;
  mine[line] = Math.max(0, Math.min(units, total));
  let spare = total - next.reduce((sum, own) => sum + (own[line] ?? 0), 0);
  const others = [...next.keys()].filter((index) => index !== parcel);
  for (const index of [
    ...others.filter((one) => one > parcel),
    ...others.filter((one) => one < parcel),
  ]) {
    const own = next[index];
    if (!own) continue;
    const now = Math.max(0, (own[line] ?? 0) + spare);
    spare -= now - (own[line] ?? 0);
    own[line] = now;
  }
  return next;
}

/** What is wrong with a division, "" when every unit has a place and no parcel is empty. */
export function leftOver(data: Data, shares: readonly (readonly number[])[]): string {
  const rows = goodsRows(data);
  for (const [index, row] of rows.entries()) {
    const placed = shares.reduce((sum, own) => sum + (own[index] ?? 0), 0);
    if (placed !== row.quantity)
      return `${row.title || row.sku}: ${placed} of ${row.quantity} have a parcel.`;
  }
  const empty = shares.findIndex((own) => own.every((count) => count === 0));
  return empty >= 0 ? `Parcel ${empty + 1} is empty. Put something in, or delete it.` : "";
}
