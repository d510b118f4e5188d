/** Price lists: which hold, which are to come; each read as tables; files in and out. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { answer, api, ProblemError, type Schemas } from "../../api/client";
import { tariff, tariffs } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { FileButton } from "../../ui/FileButton";
import { Sheet, useToast } from "../../ui/overlays";
import { Button, Empty, Mark, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { RatesTabs } from "./RatesTabs";
import { StepsSheet } from "./StepsSheet";
import { TariffTables } from "./TariffTables";

const fromBase64 = (content: string) =>
  new TextDecoder().decode(Uint8Array.from(atob(content), (ch) => ch.charCodeAt(0)));
const LINK =
  "inline-flex min-h-10 items-center rounded-part border border-line2 px-4 font-semibold text-action";

export function TariffsScreen() {
  const list = useQuery(tariffs());
  const owner = useSession().role === "owner";
  const client = useQueryClient();
  const say = useToast();
  const [params, setParams] = useSearchParams();
  const [again, setAgain] = useState<string | null>(null);
  const [notes, setNotes] = useState<readonly string[]>([]);
  const [steps, setSteps] = useState(false);
  const [removing, setRemoving] = useState(false);
  const take = useMutation({
    mutationFn: (body: { content: string; replace: boolean }) =>
      answer(api.POST("/api/tariffs", { body })),
    onSuccess: (done) => {
      say(
        done.new
          ? `${done.row.carrier_name} ${done.row.version} imported; valid from ${dayWords(done.row.valid_from)}.`
          : "The same list was already imported; nothing changed.",
      );
      setAgain(null);
      setNotes(done.notes);
      setParams({ list: String(done.row.id) });
      void client.invalidateQueries();
    },
    onError: (error, body) =>
      setAgain(
        error instanceof ProblemError && error.problem.code === "version_exists"
          ? body.content
          : null,
      ),
  });
  const remove = useMutation({
    mutationFn: (id: number) =>
      answer(api.DELETE("/api/tariffs/{tariff_id}", { params: { path: { tariff_id: id } } })),
    onSuccess: (_, id) => {
      say("Deleted; open orders are planned again.");
      setRemoving(false);
      setParams({});
      client.setQueryData(
        tariffs().queryKey,
        (list) =>
          list && {
            ...list,
            count: list.count - 1,
            results: list.results.filter((row) => row.id !== id),
          },
      );
      // What was taken away is not asked for again.
      void client.invalidateQueries({
        predicate: (query) => !(query.queryKey[0] === "tariffs" && query.queryKey[1] === id),
      });
    },
  });
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
    { key: "s", label: "Step tables from CSV", run: () => setSteps(true), off: !owner || !here },
  ]);
  if (list.isPending) return <Waiting what="your price lists" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const coming = rows.filter((row) => row.state === "coming");
  return (
    <>
      <RatesTabs />
      <ScreenHead
        title={
          rows.length === 0
            ? "No price list yet"
            : `${many(new Set(rows.map((row) => row.carrier)).size, "carrier")}, ${many(rows.filter((row) => row.state === "current").length, "current list")}`
        }
        under={
          coming.length > 0
            ? `Coming: ${coming.map((row) => `${row.carrier_name} on ${dayWords(row.valid_from)}`).join(", ")}`
            : "No coming price list"
        }
      >
        {here ? (
          <a className={LINK} href={`/api/tariffs/${here.id}/steps`} download>
            Export CSV
          </a>
        ) : null}
        {here ? (
          <a className={LINK} href={`/api/tariffs/${here.id}/file`} download>
            Export JSON
          </a>
        ) : null}
        {owner && here ? (
          <Button hotkey="S" onClick={() => setSteps(true)}>
            New prices from CSV
          </Button>
        ) : null}
        {owner ? (
          <FileButton
            text="Import price list"
            accept=".json"
            onFile={(_, content) => take.mutate({ content: fromBase64(content), replace: false })}
          />
        ) : null}
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
      {notes.length > 0 ? (
        <Notice
          kind="mind"
          action={
            <Button kind="quiet" onClick={() => setNotes([])}>
              OK
            </Button>
          }
        >
          <b>Imported. Check these:</b> {notes.slice(0, 6).join(" ")}
          {notes.length > 6 ? ` And ${notes.length - 6} more.` : ""}
        </Notice>
      ) : null}
      <div className="grid grid-cols-[300px_minmax(0,1fr)] border-t border-line bg-sheet max-lg:grid-cols-1">
        {rows.length === 0 ? (
          <Empty title="Nothing to compare yet">
            <p>Import the price list of a carrier: one file for each.</p>
          </Empty>
        ) : (
          <ul className="border-r border-line py-1" aria-label="Price lists">
            {rows.map((row, index) => (
              <li
                key={row.id}
                className={
                  index > 0 && rows[index - 1]?.carrier !== row.carrier
                    ? "border-t border-line"
                    : ""
                }
              >
                <button
                  type="button"
                  aria-pressed={index === at}
                  onClick={() => go(index)}
                  className={`w-full px-6 py-2 text-left ${index === at ? "bg-soft" : "hover:bg-ground"}`}
                >
                  <b>{row.carrier_name}</b> {row.version}{" "}
                  <span
                    className={`float-right text-small ${row.state === "current" ? "font-semibold text-ink" : "text-ink2"}`}
                  >
                    {row.state === "current" ? <Mark kind="done" /> : null} {row.state}
                  </span>
                  <span className="block text-small text-ink2">
                    from {dayWords(row.valid_from)} {row.valid_from.slice(0, 4)}
                  </span>
                </button>
              </li>
            ))}
          </ul>
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
        <Sheet
          open={removing}
          onOpenChange={setRemoving}
          title={`Delete ${here.carrier_name} ${here.version}?`}
          description="No parcel used it. Open orders are planned again without it; the file can be imported again."
        >
          <ProblemNote error={remove.error} />
          <div className="mt-3 flex gap-3">
            <Button kind="stop" disabled={remove.isPending} onClick={() => remove.mutate(here.id)}>
              Delete
            </Button>
            <Button onClick={() => setRemoving(false)}>Cancel</Button>
          </div>
        </Sheet>
      ) : null}
    </>
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

export type TariffRow = Schemas["TariffRow"];
