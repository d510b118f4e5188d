/** The cupboard as a plain table: the same numbers, sortable. */
import { useState } from "react";
import { useFormat } from "../../app/session";
import { OPENS } from "../../ui/rows";
import { Mark } from "../../ui/parts";
import { isShort, type Supply } from "./Screen";

type Column = "place" | "name" | "on_hand" | "reserved" | "free" | "average_cost";
const COLUMNS: { key: Column; name: string; num: boolean }[] = [
  { key: "place", name: "Place", num: false },
  { key: "name", name: "Supply", num: false },
  { key: "on_hand", name: "On hand", num: true },
  { key: "reserved", name: "Reserved", num: true },
  { key: "free", name: "Free", num: true },
  { key: "average_cost", name: "Cost each", num: true },
];

const value = (row: Supply, key: Column): string | number =>
  key === "place"
    ? `${row.shelf}${String(row.slot).padStart(2, "0")}`
    : key === "name"
      ? row.name
      : Number(row[key]);

export function SupplyTable({
  rows,
  picked,
  onPick,
}: {
  rows: Supply[];
  picked: Supply | undefined;
  onPick: (supply: Supply) => void;
}) {
  const format = useFormat();
  const [by, setBy] = useState<{ key: Column; up: boolean }>({ key: "place", up: true });
  const sorted = [...rows].sort((a, b) => {
    const [x, y] = [value(a, by.key), value(b, by.key)];
    return (x < y ? -1 : x > y ? 1 : 0) * (by.up ? 1 : -1);
  });
  return (
    <table className="rule-table mx-6 w-[calc(100%-3rem)]!">
      <caption className="sr-only">All supplies</caption>
      <thead>
        <tr>
          {COLUMNS.map((column) => (
            <th
              key={column.key}
              scope="col"
              className={column.num ? "num" : ""}
              aria-sort={by.key === column.key ? (by.up ? "ascending" : "descending") : "none"}
            >
              <button
                type="button"
                className="hover:text-ink"
                onClick={() =>
                  setBy({ key: column.key, up: by.key === column.key ? !by.up : true })
                }
              >
                {column.name}
                {by.key === column.key ? (by.up ? " ↑" : " ↓") : ""}
              </button>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {sorted.map((row) => (
          <tr key={row.id} {...OPENS} className={row.id === picked?.id ? "bg-soft" : ""}>
            <td>
              {row.shelf}
              {row.slot}
            </td>
            <td>
              <button
                type="button"
                className="text-left text-action hover:underline"
                onClick={() => onPick(row)}
              >
                {row.name}
              </button>{" "}
              {isShort(row) ? <Mark kind="stop" /> : null}
            </td>
            <td className="num">{format.quantity(row.on_hand, row.unit)}</td>
            <td className="num">{format.quantity(row.reserved, row.unit)}</td>
            <td className="num">{format.quantity(row.free, row.unit)}</td>
            <td className="num">
              {(Number(row.average_cost) / format.inStock(1, row.unit)).toFixed(3)}{" "}
              {row.unit === "pieces" ? "" : `/ ${format.stockUnit(row.unit)}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
