/** What a service asks, line by line: what for, by which rule, how much. */
import type { Schemas } from "../api/client";
import { useFormat } from "../app/session";

export function QuoteLines({ lines }: { lines: Schemas["Quote"]["lines"] }) {
  const format = useFormat();
  return (
    <table className="rule-table text-small">
      <tbody>
        {lines.map((line) => (
          <tr key={line.label}>
            <td>{line.label}</td>
            <td className="text-ink2">{line.rule}</td>
            <td className="num">{format.money(line.amount)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
