/** Where dots of one group lie: rows of equal height, widest where most are, each row centred. No React. */

export interface Dot<Item> {
  item: Item;
  /** Rows from nought, up. */
  row: number;
  /** From the middle of the group, in dots. */
  across: number;
}

/** Put items into rows of a height by their value; within a row they lie side by side round the middle. */
export function stacked<Item>(
  items: readonly Item[],
  value: (item: Item) => number,
  height: number,
): Dot<Item>[] {
  const rows = new Map<number, Item[]>();
  for (const item of items) {
    const row = Math.floor(value(item) / height);
    rows.set(row, [...(rows.get(row) ?? []), item]);
  }
  return [...rows].flatMap(([row, mine]) =>
    mine.map((item, at) => ({ item, row, across: at - (mine.length - 1) / 2 })),
  );
}
