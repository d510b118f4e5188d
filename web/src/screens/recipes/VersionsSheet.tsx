/** Versions: who, when, why; two of them side by side with every difference and what it does. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { compareVersions, versions } from "../../api/queries";
import { useFormat } from "../../app/session";
import { dayWords } from "../../domain/words";
import { Sheet } from "../../ui/overlays";
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
  const format = useFormat();
  const found = useQuery(compareVersions(id, before, after));
  if (found.isPending) return <Waiting what="both versions" />;
  if (found.isError) return <ProblemNote error={found.error} />;
  const { differences, figures_before: old, figures_after: now } = found.data;
  const pairs = now.map((one) => ({ one, was: old.find((other) => other.first === one.first) }));
  return (
    <div>
      <table className="rule-table">
        <caption className="text-left text-small text-ink2">What differs</caption>
        <thead>
          <tr>
            <th scope="col">Size</th>
            <th scope="col">What</th>
            <th scope="col">Version {before}</th>
            <th scope="col">Version {after}</th>
          </tr>
        </thead>
        <tbody>
          {differences.map((one) => (
            <tr key={one.band + one.what}>
              <td>{one.band || "all"}</td>
              <td>{one.what}</td>
              <td className="text-ink2">{one.before}</td>
              <td>{one.after}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {differences.length === 0 ? <p className="text-ink2">Nothing differs.</p> : null}
      <table className="rule-table mt-4">
        <caption className="text-left text-small text-ink2">What it does to one parcel</caption>
        <thead>
          <tr>
            <th scope="col">Size</th>
            <th scope="col" className="num">
              Total cost each
            </th>
            <th scope="col" className="num">
              Materials
            </th>
            <th scope="col" className="num">
              Gross weight
            </th>
            <th scope="col" className="num">
              Minutes
            </th>
            <th scope="col">Outside</th>
          </tr>
        </thead>
        <tbody>
          {pairs.map(({ one, was }) => (
            <tr key={one.first}>
              <td>{bandName(one)}</td>
              {one.problem || was?.problem || !was ? (
                <td colSpan={5}>
                  <Mark kind="mind" /> {one.problem ?? was?.problem ?? "a new order size"}
                </td>
              ) : (
                <>
                  <td className="num">
                    {format.signed(Number(one.each_all_in) - Number(was.each_all_in))}
                  </td>
                  <td className="num">
                    {format.signed(Number(one.materials) - Number(was.materials))}
                  </td>
                  <td className="num">{signedGrams((one.gross_mg ?? 0) - (was.gross_mg ?? 0))}</td>
                  <td className="num">
                    {format.signed(Number(one.minutes) - Number(was.minutes))}
                  </td>
                  <td>
                    {one.outer &&
                    was.outer &&
                    JSON.stringify(one.outer) !== JSON.stringify(was.outer)
                      ? `${format.size(was.outer)}, now ${format.size(one.outer)}`
                      : "the same"}
                  </td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const signedGrams = (mg: number): string => `${mg > 0 ? "+" : ""}${Math.round(mg / 1000)} g`;
