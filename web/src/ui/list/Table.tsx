/** The one table: columns in one place, rows that open on a click anywhere, the order by a column's head. */
import type { ReactNode } from "react";
import { OPENS } from "../rows";
import type { Sort } from "./shown";

export interface Column<Row> {
  key: string;
  name: ReactNode;
  cell: (row: Row, index: number) => ReactNode;
  num?: boolean;
  className?: string;
  /** Only for those who hear the page. */
  quiet?: boolean;
  /** May be sorted by. */
  sorts?: boolean;
}

interface Props<Row> {
  caption: string;
  columns: readonly (Column<Row> | null)[];
  rows: readonly Row[];
  rowKey: (row: Row, index: number) => string | number;
  /** Rows open on a click anywhere: the click goes to the first link or button of the row. */
  opens?: boolean;
  picked?: (row: Row, index: number) => boolean;
  onOver?: (index: number) => void;
  sort?: Sort | null;
  onSort?: (key: string) => void;
  className?: string;
  foot?: ReactNode;
  /** Whether the column heads are shown; a table of two plain columns needs none. */
  heads?: boolean;
}

export function Table<Row>({
  caption,
  columns,
  rows,
  rowKey,
  opens = false,
  picked,
  onOver,
  sort = null,
  onSort,
  className = "",
  foot,
  heads = true,
}: Props<Row>) {
  const shown = columns.filter((column) => column !== null);
  return (
    <table className={`rule-table ${className}`}>
      <caption className="sr-only">{caption}</caption>
      {heads ? (
        <thead>
          <tr>
            {shown.map((column) => (
              <Head key={column.key} column={column} sort={sort} onSort={onSort} />
            ))}
          </tr>
        </thead>
      ) : null}
      <tbody>
        {rows.map((row, index) => {
          const here = picked?.(row, index) ?? false;
          return (
            <tr
              key={rowKey(row, index)}
              {...(opens ? OPENS : {})}
              {...(onOver ? { onMouseEnter: () => onOver(index) } : {})}
              aria-selected={picked ? here : undefined}
              className={here ? "bg-soft" : ""}
            >
              {shown.map((column) => (
                <td key={column.key} className={look(column)}>
                  {column.cell(row, index)}
                </td>
              ))}
            </tr>
          );
        })}
      </tbody>
      {foot ? <tfoot>{foot}</tfoot> : null}
    </table>
  );
}

const look = ({ num, className = "" }: { num?: boolean; className?: string }) =>
  `${num ? "num" : ""} ${className}`.trim();

function Head<Row>({
  column,
  sort,
  onSort,
}: {
  column: Column<Row>;
  sort: Sort | null;
  onSort: ((key: string) => void) | undefined;
}) {
  const here = sort?.key === column.key;
  const name = column.quiet ? <span className="sr-only">{column.name}</span> : column.name;
  if (!column.sorts || !onSort)
    return (
      <th scope="col" className={look(column)}>
        {name}
      </th>
    );
  return (
    <th
      scope="col"
      className={look(column)}
      aria-sort={here ? (sort.up ? "ascending" : "descending") : "none"}
    >
      <button type="button" className="hover:text-ink" onClick={() => onSort(column.key)}>
        {name}
        {here ? (sort.up ? " ↑" : " ↓") : ""}
      </button>
    </th>
  );
}
