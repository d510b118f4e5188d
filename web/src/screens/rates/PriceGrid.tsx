/** Prices up to a weight, a column a zone. Arrows walk, a block from a spreadsheet is pasted where the cursor is. */
import type { ClipboardEvent, KeyboardEvent, ReactNode } from "react";
import { pasted, type ServiceRow } from "./typedList";

interface Props {
  service: ServiceRow;
  columns: string[];
  onChange: (now: ServiceRow) => void;
}

const STEP: Record<string, [number, number]> = {
  ArrowDown: [1, 0],
  Enter: [1, 0],
  ArrowUp: [-1, 0],
};

export function PriceGrid({ service, columns, onChange }: Props) {
  const setCell = (row: number, column: number, value: string) =>
    onChange({
      ...service,
      cells: service.cells.map((cells, r) =>
        r === row ? cells.map((cell, c) => (c === column ? value : cell)) : cells,
      ),
    });
  const setWeight = (row: number, value: string) =>
    onChange({ ...service, weights: service.weights.map((one, r) => (r === row ? value : one)) });
  const addRow = () =>
    onChange({
      ...service,
      weights: [...service.weights, ""],
      cells: [...service.cells, columns.map(() => "")],
    });
  const onPaste = (row: number, column: number) => (event: ClipboardEvent) => {
    const block = event.clipboardData.getData("text/plain");
    if (!/[\t\n]/.test(block.trim())) return;
    event.preventDefault();
    onChange(pasted(service, row, column, block));
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
          {service.weights.map((weight, row) => (
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
                    service.cells[row]?.[column] ?? "",
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
                      ...service,
                      weights: service.weights.filter((_, r) => r !== row),
                      cells: service.cells.filter((_, r) => r !== row),
                    })
                  }
                >
                  ×
                </button>
              </td>
            </tr>
          ))}
          <DaysRow service={service} columns={columns} cell={cell} onChange={onChange} />
        </tbody>
      </table>
      <button type="button" className="min-h-10 text-action underline" onClick={addRow}>
        Add a weight
      </button>
    </div>
  );
}

function DaysRow({
  service,
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
            service.weights.length,
            column,
            `Days to zone ${zone}`,
            service.days[column] ?? "",
            (value) =>
              onChange({
                ...service,
                days: service.days.map((one, c) => (c === column ? value : one)),
              }),
          )}
        </td>
      ))}
      <td />
    </tr>
  );
}
