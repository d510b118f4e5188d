/** Versions: who, when, why; two of them side by side with every difference and what it does. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { compareVersions, versions } from "../../api/recipes";
import { useFormat } from "../../app/session";
import { dayWords } from "../../domain/words";
import { Table, type Column } from "../../ui/list/Table";
import { Sheet } from "../../ui/Sheet";
import { Mark, ProblemNote, Waiting } from "../../ui/parts";
import { bandName } from "./rows";

export function VersionsSheet({
  open,
  onClose,
  id,
  name,
  newest,
}: {
  open: boolean;
  onClose: () => void;
  id: number;
  name: string;
  newest: number;
}) {
  const [before, setBefore] = useState<number | null>(null);
  return (
    <Sheet
      open={open}
      onOpenChange={(now) => {
        if (!now) {
          setBefore(null);
          onClose();
        }
      }}
      title={`Versions of ${name}`}
      wide
    >
      {open ? (
        <History
          id={id}
          newest={newest}
          before={before ?? (newest > 1 ? newest - 1 : null)}
          onBefore={setBefore}
        />
      ) : null}
    </Sheet>
  );
}

function History({
  id,
  newest,
  before,
  onBefore,
}: {
  id: number;
  newest: number;
  before: number | null;
  onBefore: (n: number) => void;
}) {
  const list = useQuery(versions(id));
  if (list.isPending) return <Waiting what="the versions" />;
  if (list.isError) return <ProblemNote error={list.error} />;
  return (
    <div className="grid grid-cols-[240px_minmax(0,1fr)] gap-6 max-md:grid-cols-1">
      <ul>
        {list.data.results.map((row) => (
          <li
            key={row.number}
            className={`border-t border-line py-2 ${row.number === before ? "bg-soft" : ""}`}
          >
            {row.number === newest ? (
              <b>Version {row.number}, current</b>
            ) : (
              <button
                type="button"
                aria-pressed={row.number === before}
                className="font-semibold text-action"
                onClick={() => onBefore(row.number)}
              >
                Version {row.number}
              </button>
            )}
            <span className="block text-small text-ink2">
              {dayWords(row.at)}, {row.author}
            </span>
            <span className="block">{row.reason}</span>
          </li>
        ))}
      </ul>
      {before === null ? (
        <p className="text-ink2">There is one version; a second one is compared with it here.</p>
      ) : (
        <Compared id={id} before={before} after={newest} />
      )}
    </div>
  );
}

function Compared({ id, before, after }: { id: number; before: number; after: number }) {
  const found = useQuery(compareVersions(id, before, after));
  if (found.isPending) return <Waiting what="both versions" />;
  if (found.isError) return <ProblemNote error={found.error} />;
  const { differences, figures_before: old, figures_after: now } = found.data;
  const pairs = now.map((one) => ({ one, was: old.find((other) => other.first === one.first) }));
  return (
    <div>
      <h3 className="text-small text-ink2">What differs</h3>
      <Table
        caption="What differs"
        rows={differences}
        rowKey={(one) => one.band + one.what}
        columns={[
          { key: "size", name: "Size", cell: (one) => one.band || "all" },
          { key: "what", name: "What", cell: (one) => one.what },
          {
            key: "before",
            name: `Version ${before}`,
            className: "text-ink2",
            cell: (one) => one.before,
          },
          { key: "after", name: `Version ${after}`, cell: (one) => one.after },
        ]}
      />
      {differences.length === 0 ? <p className="text-ink2">Nothing differs.</p> : null}
      <h3 className="mt-4 text-small text-ink2">What it does to one parcel</h3>
      <ParcelChanges pairs={pairs} />
    </div>
  );
}

interface Pair {
  one: Schemas["BandFigures"];
  was: Schemas["BandFigures"] | undefined;
}

function ParcelChanges({ pairs }: { pairs: readonly Pair[] }) {
  const format = useFormat();
  const change = (key: "each_all_in" | "materials" | "minutes", name: string): Column<Pair> => ({
    key,
    name,
    num: true,
    cell: ({ one, was }) =>
      problemOf({ one, was }) || !was ? "" : format.signed(Number(one[key]) - Number(was[key])),
  });
  return (
    <Table
      caption="What it does to one parcel"
      rows={pairs}
      rowKey={({ one }) => one.first}
      columns={[
        { key: "size", name: "Size", cell: ({ one }) => bandName(one) },
        change("each_all_in", "Total cost each"),
        change("materials", "Materials"),
        {
          key: "gross",
          name: "Gross weight",
          num: true,
          cell: ({ one, was }) =>
            problemOf({ one, was })
              ? ""
              : format.signedWeight((one.gross_mg ?? 0) - (was?.gross_mg ?? 0)),
        },
        change("minutes", "Minutes"),
        {
          key: "outside",
          name: "Outside",
          cell: ({ one, was }) => {
            const problem = problemOf({ one, was });
            if (problem)
              return (
                <>
                  <Mark kind="mind" /> {problem}
                </>
              );
            return one.outer &&
              was?.outer &&
              JSON.stringify(one.outer) !== JSON.stringify(was.outer)
              ? `${format.size(was.outer)}, now ${format.size(one.outer)}`
              : "the same";
          },
        },
      ]}
    />
  );
}

const problemOf = ({ one, was }: Pair): string =>
  one.problem || was?.problem || (was ? "" : "a new order size");
