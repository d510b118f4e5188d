/** Our fields beside the file's columns, with samples of what stands in them and why each was taken. */
import type { Schemas } from "../../api/client";
import { Table } from "../../ui/list/Table";
import { Pick } from "../../ui/Pick";
import { andColumn, FIELD_WORDS, freeColumns, withColumn, type Matching } from "./matching";

type Shown = Schemas["MatchingOut"];
type FieldRow = Shown["fields"][number];

const NONE = "-";

const REASONS: Record<string, string> = {
  name: "by its name",
  content: "by what is in it",
  both: "by name and content",
  person: "as you said",
};

export function MatchingTable({
  shown,
  matching,
  onMatching,
}: {
  shown: Shown;
  matching: Matching;
  onMatching: (now: Matching) => void;
}) {
  const samples = new Map(shown.columns.map((one) => [one.name, one]));
  const free = freeColumns(shown, matching);
  const used = (row: FieldRow) => matching.columns[row.name] ?? [];
  // What the file has comes first; the rest is there to be chosen.
  const rows = [
    ...shown.fields.filter((row) => used(row).length > 0),
    ...shown.fields.filter((row) => used(row).length === 0),
  ];
  return (
    <Table
      caption="Fields of an order and the columns they are read from"
      rows={rows}
      rowKey={(row) => row.name}
      columns={[
        {
          key: "field",
          name: "Field",
          className: "pl-6! whitespace-nowrap",
          cell: (row) => (
            <span className={used(row).length > 0 ? "font-semibold" : "text-ink2"}>
              {FIELD_WORDS[row.name] ?? row.name}
            </span>
          ),
        },
        {
          key: "column",
          name: "Column of the file",
          cell: (row) => (
            <span className="flex flex-wrap items-center gap-2">
              <Pick
                label={`Column for ${FIELD_WORDS[row.name] ?? row.name}`}
                value={used(row)[0] ?? NONE}
                options={[
                  { value: NONE, text: "none" },
                  ...shown.columns.map((one) => ({ value: one.name, text: one.name })),
                ]}
                onPick={(column) =>
                  onMatching(withColumn(matching, row.name, column === NONE ? "" : column))
                }
                className="min-w-48"
              />
              {used(row)
                .slice(1)
                .map((column) => (
                  <span key={column}>and {column}</span>
                ))}
              {row.several && used(row).length > 0 && free.length > 0 && used(row).length < 4 ? (
                <Pick
                  label={`Another column for ${FIELD_WORDS[row.name] ?? row.name}`}
                  value={NONE}
                  options={[
                    { value: NONE, text: "and…" },
                    ...free.map((name) => ({ value: name, text: name })),
                  ]}
                  onPick={(column) =>
                    column !== NONE && onMatching(andColumn(matching, row.name, column))
                  }
                />
              ) : null}
            </span>
          ),
        },
        {
          key: "samples",
          name: "What stands there",
          className: "max-w-96 text-ink2",
          cell: (row) =>
            used(row)
              .flatMap((column) => samples.get(column)?.samples ?? [])
              .slice(0, 3)
              .join(" · ") || matching.constants?.[row.name],
        },
        {
          key: "why",
          name: "Found",
          className: "pr-6! whitespace-nowrap text-ink2",
          cell: (row) =>
            used(row).length === 0
              ? ""
              : `${REASONS[row.by] ?? ""}${row.read !== null && row.read < 100 ? `, ${row.read} of 100 can be read` : ""}`,
        },
      ]}
    />
  );
}
