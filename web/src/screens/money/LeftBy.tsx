/** Orders with something in common: how many, and what they left. */
import type { ReactNode } from "react";
import { useFormat } from "../../app/session";

interface Group {
  key: string;
  orders: number;
  left: string;
}

/** So many of a list are shown. */
const SHOWN = 8;

export function LeftBy({ title, rows }: { title: ReactNode; rows: readonly Group[] }) {
  const format = useFormat();
  return (
    <table className="rule-table self-start">
      <thead>
        <tr>
          <th>{title}</th>
          <th className="num">Orders</th>
          <th className="num">Left</th>
        </tr>
      </thead>
      <tbody>
        {rows.slice(0, SHOWN).map((row) => (
          <tr key={row.key}>
            <td>{row.key}</td>
            <td className="num">{row.orders}</td>
            <td className="num">{format.signed(row.left)}</td>
          </tr>
        ))}
        {rows.length > SHOWN ? (
          <tr>
            <td colSpan={3} className="text-small text-ink2">
              and {rows.length - SHOWN} more
            </td>
          </tr>
        ) : null}
      </tbody>
    </table>
  );
}
