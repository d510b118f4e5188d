/** Price lists: which hold, which are to come; each read as tables; files in and out. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { deleteTariff, importTariff, tariff, tariffs } from "../../api/prices";
import { ProblemError, type Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { dateWords, many } from "../../domain/words";
import { FileButton } from "../../ui/FileButton";
import { Sheet } from "../../ui/Sheet";
import { useToast } from "../../ui/useToast";
import {
  Button,
  Empty,
  LinkButton,
  Mark,
  Notice,
  ProblemNote,
  ScreenHead,
  Waiting,
} from "../../ui/parts";
import { RatesTabs } from "./RatesTabs";
import { StepsSheet } from "./StepsSheet";
import { TariffTables } from "./TariffTables";

const fromBase64 = (content: string) =>
  new TextDecoder().decode(Uint8Array.from(atob(content), (ch) => ch.charCodeAt(0)));

/** A price list taken in: what to check of it, and whether one of the same version stands in its way. */
function useImport(onTaken: (id: number) => void) {
  const say = useToast();
  const [again, setAgain] = useState<string | null>(null);
  const [notes, setNotes] = useState<readonly string[]>([]);
  const take = useMutation({
    ...importTariff(),
    onSuccess: (done) => {
      say(
        done.new
          ? `${done.row.carrier_name} ${done.row.version} imported; valid from ${dateWords(done.row.valid_from)}.`
          : "The same list was already imported; nothing changed.",
      );
      setAgain(null);
      setNotes(done.notes);
      onTaken(done.row.id);
    },
    onError: (error, body) =>
      setAgain(
        error instanceof ProblemError && error.problem.code === "version_exists"
          ? body.content
          : null,
      ),
  });
  return { take, again, notes, setNotes };
}

export function TariffsScreen() {
  const list = useQuery(tariffs());
  const owner = useSession().role === "owner";
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const [steps, setSteps] = useState(false);
  const [removing, setRemoving] = useState(false);
  const { take, again, notes, setNotes } = useImport((id) => setParams({ list: String(id) }));
  const rows = list.data?.results ?? [];
  const at = Math.max(
    0,
    rows.findIndex((row) => String(row.id) === params.get("list")),
  );
  const here = rows[at];
  const go = (to: number) => {
    const row = rows[Math.min(Math.max(to, 0), rows.length - 1)];
    if (row) setParams({ list: String(row.id) }, { replace: true });
  };
  useActions([
    { key: "arrowdown", label: "Next list", run: () => go(at + 1) },
    { key: "arrowup", label: "List before", run: () => go(at - 1) },
    {
      key: "n",
      label: "New price list by hand",
      run: () => void navigate("/rates/tariffs/new"),
      off: !owner,
    },
    {
      key: "e",
      label: "Change it: a new version",
      run: () => here && void navigate(`/rates/tariffs/${here.id}/change`),
      off: !owner || !here,
    },
    { key: "s", label: "Step tables from CSV", run: () => setSteps(true), off: !owner || !here },
  ]);
  if (list.isPending) return <Waiting what="your price lists" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  return (
    <>
      <RatesTabs />
      <ScreenHead {...headOf(rows)}>
        <Doors
          here={here}
          owner={owner}
          onSteps={() => setSteps(true)}
          onFile={(content) => take.mutate({ content: fromBase64(content), replace: false })}
        />
      </ScreenHead>
      <div className="px-6">
        <ProblemNote error={take.error} />
      </div>
      {again !== null ? (
        <Notice
          kind="mind"
          action={
            <Button onClick={() => take.mutate({ content: again, replace: true })}>Replace</Button>
          }
        >
          No parcel used the current list. Replace with this file?
        </Notice>
      ) : null}
      <ToCheck notes={notes} onSeen={() => setNotes([])} />
      <div className="grid grid-cols-[300px_minmax(0,1fr)] border-t border-line bg-sheet max-lg:grid-cols-1">
        {rows.length === 0 ? (
          <Empty title="Nothing to compare yet">
            <p>Import the price list of a carrier: one file for each. Or press N and type it in.</p>
          </Empty>
        ) : (
          <Lists rows={rows} at={at} onAt={go} />
        )}
        {here ? (
          <Version key={here.id} id={here.id} owner={owner} onRemove={() => setRemoving(true)} />
        ) : null}
      </div>
      {here ? (
        <StepsSheet
          open={steps}
          onOpenChange={setSteps}
          row={here}
          onTaken={(id, told) => {
            setNotes(told);
            setParams({ list: String(id) });
          }}
        />
      ) : null}
      {here ? (
        <DeleteSheet
          row={here}
          open={removing}
          onOpenChange={setRemoving}
          onGone={() => setParams({})}
        />
      ) : null}
    </>
  );
}

/** Files out and in, and lists by hand. */
function Doors({
  here,
  owner,
  onSteps,
  onFile,
}: {
  here: TariffRow | undefined;
  owner: boolean;
  onSteps: () => void;
  onFile: (content: string) => void;
}) {
  const navigate = useNavigate();
  return (
    <>
      {here ? (
        <LinkButton href={`/api/tariffs/${here.id}/steps`} download>
          Export CSV
        </LinkButton>
      ) : null}
      {here ? (
        <LinkButton href={`/api/tariffs/${here.id}/file`} download>
          Export JSON
        </LinkButton>
      ) : null}
      {owner && here ? (
        <Button hotkey="E" onClick={() => void navigate(`/rates/tariffs/${here.id}/change`)}>
          Change
        </Button>
      ) : null}
      {owner ? (
        <Button hotkey="N" onClick={() => void navigate("/rates/tariffs/new")}>
          New
        </Button>
      ) : null}
      {owner && here ? (
        <Button hotkey="S" onClick={onSteps}>
          New prices from CSV
        </Button>
      ) : null}
      {owner ? (
        <FileButton
          text="Import price list"
          accept=".json"
          onFile={(_, content) => onFile(content)}
        />
      ) : null}
    </>
  );
}

function headOf(rows: readonly TariffRow[]): { title: string; under: string } {
  const coming = rows.filter((row) => row.state === "coming");
  const carriers = new Set(rows.map((row) => row.carrier)).size;
  const current = rows.filter((row) => row.state === "current").length;
  return {
    title:
      rows.length === 0
        ? "No price list yet"
        : `${many(carriers, "carrier")}, ${many(current, "current list")}`,
    under:
      coming.length > 0
        ? `Coming: ${coming.map((row) => `${row.carrier_name} on ${dateWords(row.valid_from)}`).join(", ")}`
        : "No coming price list",
  };
}

function ToCheck({ notes, onSeen }: { notes: readonly string[]; onSeen: () => void }) {
  if (notes.length === 0) return null;
  return (
    <Notice
      kind="mind"
      action={
        <Button kind="quiet" onClick={onSeen}>
          OK
        </Button>
      }
    >
      <b>Imported. Check these:</b> {notes.slice(0, 6).join(" ")}
      {notes.length > 6 ? ` And ${notes.length - 6} more.` : ""}
    </Notice>
  );
}

function Lists({
  rows,
  at,
  onAt,
}: {
  rows: readonly TariffRow[];
  at: number;
  onAt: (index: number) => void;
}) {
  return (
    <ul className="border-r border-line py-1" aria-label="Price lists">
      {rows.map((row, index) => (
        <li
          key={row.id}
          className={
            index > 0 && rows[index - 1]?.carrier !== row.carrier ? "border-t border-line" : ""
          }
        >
          <button
            type="button"
            aria-pressed={index === at}
            onClick={() => onAt(index)}
            className={`w-full px-6 py-2 text-left ${index === at ? "bg-soft" : "hover:bg-ground"}`}
          >
            <b>{row.carrier_name}</b> {row.version}{" "}
            <span
              className={`float-right text-small ${row.state === "current" ? "font-semibold text-ink" : "text-ink2"}`}
            >
              {row.state === "current" ? <Mark kind="done" /> : null} {row.state}
            </span>
            <span className="block text-small text-ink2">from {dateWords(row.valid_from)}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function DeleteSheet({
  row,
  open,
  onOpenChange,
  onGone,
}: {
  row: TariffRow;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  onGone: () => void;
}) {
  const say = useToast();
  const remove = useMutation({
    ...deleteTariff(),
    onSuccess: () => {
      say("Deleted; open orders are planned again.");
      onOpenChange(false);
      onGone();
    },
  });
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Delete ${row.carrier_name} ${row.version}?`}
      description="No parcel used it. Open orders are planned again without it; the file can be imported again."
    >
      <ProblemNote error={remove.error} />
      <div className="mt-3 flex gap-3">
        <Button kind="stop" disabled={remove.isPending} onClick={() => remove.mutate(row.id)}>
          Delete
        </Button>
        <Button onClick={() => onOpenChange(false)}>Cancel</Button>
      </div>
    </Sheet>
  );
}

function Version({ id, owner, onRemove }: { id: number; owner: boolean; onRemove: () => void }) {
  const found = useQuery(tariff(id));
  if (found.isPending) return <Waiting what="the list" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  const { data } = found;
  return (
    <section
      className="min-w-0 px-6 py-3"
      aria-label={`${data.row.carrier_name} ${data.row.version}`}
    >
      <p className="text-ink2">
        {data.row.source ? `${data.row.source}.` : "No source noted."}{" "}
        {data.labels > 0
          ? `${data.labels} ${data.labels === 1 ? "label was" : "labels were"} bought by it: it stays as it is.`
          : "No label was bought by it yet."}{" "}
        {owner && data.labels === 0 ? (
          <button type="button" className="text-action underline" onClick={onRemove}>
            Delete
          </button>
        ) : null}
      </p>
      {data.notes.map((note) => (
        <p key={note} className="mt-1 flex gap-2 text-small">
          <Mark kind="mind" />
          {note}
        </p>
      ))}
      <TariffTables file={data.file} packaging={data.packaging} conditions={data.conditions} />
    </section>
  );
}

type TariffRow = Schemas["TariffRow"];
