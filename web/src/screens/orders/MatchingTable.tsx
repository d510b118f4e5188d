/** Our fields beside the file's columns, with samples of what stands in them and why each was taken. */
import type { Schemas } from "../../api/client";
import { Table } from "../../ui/list/Table";
import { Pick } from "../../ui/Pick";
import { andColumn, FIELD_WORDS, freeColumns, withColumn, type Matching } from "./matching";

type Shown = Schemas["MatchingOut"];
type FieldRow = Shown["fields"][number];
type ColumnRow = Shown["columns"][number];

interface Props {
  shown: Shown;
  matching: Matching;
  onMatching: (now: Matching) => void;
}

const NONE = "-";

const REASONS: Record<string, string> = {
  name: "by its name",
  content: "by what is in it",
  both: "by name and content",
  person: "as you said",
};

const named = (name: string) => FIELD_WORDS[name] ?? name;

/** What is read comes first, then the columns nothing is read from. */
export function MatchingTable({ shown, matching, onMatching }: Props) {
  const samples = new Map(shown.columns.map((one) => [one.name, one]));
  const used = (row: FieldRow) => matching.columns[row.name] ?? [];
  const rows = shown.fields.filter((row) => used(row).length > 0 || matching.constants?.[row.name]);
  return (
    <>
      <Table
        caption="Fields of an order and the columns they are read from"
        rows={rows}
        rowKey={(row) => row.name}
        columns={[
          {
            key: "field",
            name: "Field",
            className: "pl-6! w-64 align-middle font-semibold",
            cell: (row) => named(row.name),
          },
          {
            key: "column",
            name: "Column of the file",
            className: "w-96",
            cell: (row) => (
              <FieldColumns row={row} shown={shown} matching={matching} onMatching={onMatching} />
            ),
          },
          {
            key: "samples",
            name: "What stands there",
            className: "align-middle text-ink2",
            cell: (row) =>
              used(row)
                .flatMap((column) => samples.get(column)?.samples ?? [])
                .slice(0, 3)
                .join(" · ") || `${matching.constants?.[row.name] ?? ""} for all`,
          },
          {
            key: "why",
            name: "Found",
            className: "pr-6! align-middle whitespace-nowrap text-ink2",
            cell: (row) =>
              `${REASONS[row.by] ?? ""}${row.read !== null && row.read < 100 ? `, ${row.read} of 100 can be read` : ""}`,
          },
        ]}
      />
      <Unread shown={shown} matching={matching} onMatching={onMatching} />
    </>
  );
}

function FieldColumns({ row, shown, matching, onMatching }: Props & { row: FieldRow }) {
  const used = matching.columns[row.name] ?? [];
  const free = freeColumns(shown, matching);
  return (
    <span className="flex flex-wrap items-center gap-2">
      <Pick
        label={`Column for ${named(row.name)}`}
        value={used[0] ?? NONE}
        options={[
          { value: NONE, text: "none" },
          ...shown.columns.map((one) => ({ value: one.name, text: one.name })),
        ]}
        onPick={(column) =>
          onMatching(withColumn(matching, row.name, column === NONE ? "" : column))
        }
        className="min-w-48"
      />
      {used.slice(1).map((column) => (
        <span key={column}>and {column}</span>
      ))}
      {row.several && used.length > 0 && free.length > 0 && used.length < 4 ? (
        <Pick
          label={`Another column for ${named(row.name)}`}
          value={NONE}
          options={[
            { value: NONE, text: "and…" },
            ...free.map((name) => ({ value: name, text: name })),
          ]}
          onPick={(column) => column !== NONE && onMatching(andColumn(matching, row.name, column))}
        />
      ) : null}
    </span>
  );
}

/** Columns nothing is read from: left out, unless the person says what they are. */
function Unread({ shown, matching, onMatching }: Props) {
  const free = new Set(freeColumns(shown, matching));
  const rows = shown.columns.filter((one) => free.has(one.name));
  if (rows.length === 0) return null;
  const fields = shown.fields.filter((one) => !matching.columns[one.name]?.length);
  return (
    <Table
      caption="Columns nothing is read from"
      rows={rows}
      rowKey={(row: ColumnRow) => row.name}
      columns={[
        {
          key: "column",
          name: "Not read",
          className: "pl-6! w-64 align-middle",
          cell: (row) => row.name,
        },
        {
          key: "field",
          name: "Read it as",
          className: "w-96",
          cell: (row) => (
            <Pick
              label={`Read ${row.name} as`}
              value={NONE}
              options={[
                { value: NONE, text: "left out" },
                ...fields.map((one) => ({ value: one.name, text: named(one.name) })),
              ]}
              onPick={(field) =>
                field !== NONE && onMatching(withColumn(matching, field, row.name))
              }
              className="min-w-48"
            />
          ),
        },
        {
          key: "samples",
          name: "What stands there",
          className: "pr-6! align-middle text-ink2",
          cell: (row) => row.samples.join(" · ") || "nothing",
        },
      ]}
    />
  );
}
