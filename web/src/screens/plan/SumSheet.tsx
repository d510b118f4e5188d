/** A figure opened: its lines, its rule, its result. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { Table } from "../../ui/list/Table";
import { Sheet } from "../../ui/Sheet";

interface Props {
  workings: readonly Schemas["Working"][];
  first: string | null;
  names: Record<string, string>;
  onClose: () => void;
}

export function SumSheet({ workings, first, names, onClose }: Props) {
  return (
    <Sheet
      open={first !== null}
      onOpenChange={(open) => !open && onClose()}
      title={first ?? ""}
      wide
    >
      {first === null ? null : <Sums key={first} workings={workings} first={first} names={names} />}
    </Sheet>
  );
}

function Sums({
  workings,
  first,
  names,
}: {
  workings: readonly Schemas["Working"][];
  first: string;
  names: Record<string, string>;
}) {
  const format = useFormat();
  const [picked, setPicked] = useState(first);
  const one = workings.find((working) => working.what === picked);
  const named = (label: string) => label.replace(/^[\w.-]+(?=,)/, (code) => names[code] ?? code);
  return (
    <div className="grid grid-cols-[1fr_200px] gap-8">
      <div>
        {one ? (
          <>
            <Table
              caption={one.what}
              heads={false}
              rows={one.lines}
              rowKey={(line) => line.label}
              columns={[
                { key: "label", name: "Line", cell: (line) => named(line.label) },
                {
                  key: "amount",
                  name: "Amount",
                  num: true,
                  cell: (line) => format.amount(line.amount.value, line.amount.unit),
                },
              ]}
              foot={
                <tr className="font-semibold">
                  <td>{one.what}</td>
                  <td className="num">{format.amount(one.result.value, one.result.unit)}</td>
                </tr>
              }
            />
            <p className="mt-3 text-small text-ink2">{one.rule}</p>
          </>
        ) : null}
      </div>
      <ul className="border-l border-line pl-4 text-small" aria-label="Other figures">
        {workings.map((working) => (
          <li key={working.what}>
            <button
              type="button"
              aria-pressed={working.what === picked}
              className={`py-1 text-left ${working.what === picked ? "font-semibold text-action" : "text-ink2 hover:text-ink"}`}
              onClick={() => setPicked(working.what)}
            >
              {working.what}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
