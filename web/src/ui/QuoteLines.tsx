/** What a service asks, line by line: what for, by which rule, how much. */
import type { Schemas } from "../api/client";
import { useFormat } from "../app/session";
import { Table } from "./list/Table";

export function QuoteLines({ lines }: { lines: Schemas["Quote"]["lines"] }) {
  const format = useFormat();
  return (
    <Table
      className="text-small"
      caption="Lines of the price"
      heads={false}
      rows={lines}
      rowKey={(line) => line.label}
      columns={[
        { key: "label", name: "Line", cell: (line) => line.label },
        { key: "rule", name: "Rule", className: "text-ink2", cell: (line) => line.rule },
        { key: "amount", name: "Amount", num: true, cell: (line) => format.money(line.amount) },
      ]}
    />
  );
}
