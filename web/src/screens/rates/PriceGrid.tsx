/** Prices up to a weight, a column a zone. Arrows walk, a block from a spreadsheet is pasted where the cursor is. */
import { useState, type ClipboardEvent, type KeyboardEvent, type ReactNode } from "react";
import { noMore, pasted, type MoreRow, type SizeRow } from "./typedList";

interface Props {
  size: SizeRow;
  columns: string[];
  onChange: (now: SizeRow) => void;
}

const STEP: Record<string, [number, number]> = {
  ArrowDown: [1, 0],
  Enter: [1, 0],
  ArrowUp: [-1, 0],
};

export function PriceGrid({ size, columns, onChange }: Props) {
  const setCell = (row: number, column: number, value: string) =>
    onChange({
      ...size,
      cells: size.cells.map((cells, r) =>
        r === row ? cells.map((cell, c) => (c === column ? value : cell)) : cells,
      ),
    });
  const setWeight = (row: number, value: string) =>
    onChange({ ...size, weights: size.weights.map((one, r) => (r === row ? value : one)) });
  const addRow = () =>
    onChange({
      ...size,
      weights: [...size.weights, ""],
      cells: [...size.cells, columns.map(() => "")],
    });
  const onPaste = (row: number, column: number) => (event: ClipboardEvent) => {
    const block = event.clipboardData.getData("text/plain");
    if (!/[\t\n]/.test(block.trim())) return;
    event.preventDefault();
    onChange(pasted(size, row, column, block));
  };
  const onKeyDown = (row: number, column: number) => (event: KeyboardEvent<HTMLInputElement>) => {
    const step = STEP[event.key];
    if (!step || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const table = event.currentTarget.closest("table");
    const to = `[data-at="${row + step[0]},${column + step[1]}"]`;
    table?.querySelector<HTMLInputElement>(to)?.focus();
  };
  const cell = (
    row: number,
    column: number,
    label: string,
    value: string,
    set: (v: string) => void,
  ) => (
    <input
      data-at={`${row},${column}`}
      aria-label={label}
      inputMode={column < 0 ? "text" : "decimal"}
      className="h-9 w-full min-w-16 bg-transparent px-2 text-right outline-none focus:outline-2 focus:outline-action"
      value={value}
      onChange={(event) => set(event.target.value)}
      onPaste={onPaste(row, column)}
      onKeyDown={onKeyDown(row, column)}
    />
  );
  return (
    <div className="mt-4 overflow-x-auto">
      <table className="border-collapse text-right">
        <caption className="pb-1 text-left text-small text-ink2">
          Prices. A block from a spreadsheet can be pasted into any cell; an empty cell: it does not
          go there.
        </caption>
        <thead>
          <tr className="text-small text-ink2">
            <th scope="col" className="px-2 text-left font-normal">
              Up to
            </th>
            {columns.map((zone) => (
              <th key={zone} scope="col" className="px-2 font-normal">
                zone {zone}
              </th>
            ))}
            <td />
          </tr>
        </thead>
        <tbody>
          {size.weights.map((weight, row) => (
            <tr key={row} className="border border-line">
              <td className="w-28 border-r border-line bg-ground">
                {cell(row, -1, `Up to, row ${row + 1}`, weight, (value) => setWeight(row, value))}
              </td>
              {columns.map((zone, column) => (
                <td key={zone} className="w-24 border-r border-line">
                  {cell(
                    row,
                    column,
                    `Price up to ${weight || `row ${row + 1}`}, zone ${zone}`,
                    size.cells[row]?.[column] ?? "",
                    (value) => setCell(row, column, value),
                  )}
                </td>
              ))}
              <td>
                <button
                  type="button"
                  aria-label={`Take the row up to ${weight} off`}
                  className="h-9 px-2 text-ink2 hover:text-ink"
                  onClick={() =>
                    onChange({
                      ...size,
                      weights: size.weights.filter((_, r) => r !== row),
                      cells: size.cells.filter((_, r) => r !== row),
                    })
                  }
                >
                  ×
                </button>
              </td>
            </tr>
          ))}
          <DaysRow size={size} columns={columns} cell={cell} onChange={onChange} />
        </tbody>
      </table>
      <button type="button" className="min-h-10 text-action underline" onClick={addRow}>
        Add a weight
      </button>
      <Evenly size={size} columns={columns} onChange={onChange} />
    </div>
  );
}

const MORE: readonly [keyof MoreRow, string][] = [
  ["base", "Base"],
  ["first", "base up to"],
  ["price", "then"],
  ["each", "for each begun"],
  ["most", "priced up to"],
];

/** In place of steps: a base, and so much for each further weight. */
function Evenly({ size, columns, onChange }: Props) {
  const used = size.more.some((one) => Object.values(one).some((typed) => typed.trim()));
  const [open, setOpen] = useState(used);
  if (!open)
    return (
      <button
        type="button"
        className="ml-6 min-h-10 text-action underline"
        onClick={() => setOpen(true)}
      >
        Prices that rise evenly
      </button>
    );
  const set = (column: number, now: Partial<MoreRow>) =>
    onChange({
      ...size,
      more: columns.map((_, at) => {
        const row = size.more[at] ?? noMore();
        return at === column ? { ...row, ...now } : row;
      }),
    });
  return (
    <table className="mt-2 border-collapse">
      <caption className="pb-1 text-left text-small text-ink2">
        A base price, then so much for each further weight: in place of the steps of that zone.
      </caption>
      <thead>
        <tr className="text-small text-ink2">
          <th scope="col" className="px-2 text-left font-normal">
            Zone
          </th>
          {MORE.map(([name, words]) => (
            <th key={name} scope="col" className="px-2 font-normal">
              {words}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {columns.map((zone, column) => (
          <tr key={zone} className="border border-line">
            <th scope="row" className="w-28 border-r border-line bg-ground px-2 font-normal">
              {zone}
            </th>
            {MORE.map(([name, words]) => (
              <td key={name} className="w-28 border-r border-line">
                <input
                  aria-label={`${words}, zone ${zone}`}
                  className="h-9 w-full min-w-16 bg-transparent px-2 text-right outline-none focus:outline-2 focus:outline-action"
                  value={size.more[column]?.[name] ?? ""}
                  onChange={(event) => set(column, { [name]: event.target.value })}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function DaysRow({
  size,
  columns,
  cell,
  onChange,
}: Props & {
  cell: (
    row: number,
    column: number,
    label: string,
    value: string,
    set: (value: string) => void,
  ) => ReactNode;
}) {
  return (
    <tr>
      <td className="px-2 text-left text-small text-ink2">Days</td>
      {columns.map((zone, column) => (
        <td key={zone} className="border border-line">
          {cell(
            size.weights.length,
            column,
            `Days to zone ${zone}`,
            size.days[column] ?? "",
            (value) =>
              onChange({
                ...size,
                days: size.days.map((one, c) => (c === column ? value : one)),
              }),
          )}
        </td>
      ))}
      <td />
    </tr>
  );
}
