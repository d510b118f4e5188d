/** A recipe: how this product is packed for one, for two, for six. The section follows the column the hand is in. */
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { recipe, supplies, versions } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords } from "../../domain/words";
import { Section } from "../../drawings/Section";
import { Sheet } from "../../ui/overlays";
import { Button, Field, Mark, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Figures } from "./Figures";
import { Grid } from "./Grid";
import { bandName, rowsOf } from "./rows";
import { useRecipe } from "./useRecipe";

export function RecipeScreen() {
  const id = Number(useParams().recipeId);
  const found = useQuery(recipe(id));
  const shelf = useQuery(supplies());
  if (found.isPending || shelf.isPending) return <Waiting what="the recipe" />;
  if (found.isError || shelf.isError) return <div className="p-6"><ProblemNote error={found.error ?? shelf.error} /></div>;
  return <RecipeOf key={id} data={found.data} supplies={shelf.data.results} />;
}

function RecipeOf({ data, supplies: shelf }: { data: Schemas["RecipeOut"]; supplies: Schemas["SupplyOut"][] }) {
  const who = useSession();
  const format = useFormat();
  const edit = useRecipe(data);
  const [column, setColumn] = useState(0);
  const [keeping, setKeeping] = useState(false);
  const [history, setHistory] = useState(false);
  const [reason, setReason] = useState("");
  const locked = who.role !== "owner";
  const rows = useMemo(() => rowsOf(edit.doc, shelf, format.system), [edit.doc, shelf, format.system]);
  const figure = edit.figures[column];
  const band = edit.doc.bands[column];
  useActions([
    { key: "k", label: "Keep as a new version", run: () => setKeeping(true), off: !edit.changed || locked },
    { key: "z", label: "Undo the last change", run: edit.undo, off: !edit.changed },
    { key: "v", label: "Versions", run: () => setHistory(true) },
  ]);
  return (
    <>
      <ScreenHead title={data.name} under={<span className="line-clamp-1">Version {data.version.number}, {dayWords(data.version.at)}, {data.version.author}: “{data.version.reason}”. Packs {data.products.map((product) => product.name).join(", ") || "no product yet"}.</span>}>
        <Button hotkey="V" onClick={() => setHistory(true)}>Versions</Button>
        {edit.changed ? <Button hotkey="Z" onClick={edit.undo}>Undo</Button> : null}
        {locked ? null : <Button kind="next" hotkey="K" disabled={!edit.changed} onClick={() => setKeeping(true)}>Keep as version {data.version.number + 1}</Button>}
      </ScreenHead>
      {edit.behind ? <Notice kind="mind" action={<Button onClick={edit.rebase}>Go on from version {data.version.number}</Button>}><b>Version {data.version.number} came in while you worked.</b> Your change is still here; look at both before you keep it.</Notice> : null}
      {edit.figuresError ? <ProblemNote error={edit.figuresError} /> : null}
      <div className="grid grid-cols-[440px_minmax(0,1fr)] border-t border-line bg-sheet max-lg:grid-cols-1">
        <aside className="border-r border-line px-6 py-3" aria-label="The parcel of this band">
          <h2 className="text-[15px] text-ink2">Packed for {band ? bandName(band) : ""}, cut from the side</h2>
          {figure?.candidate ? (
            <Section parcel={figure.candidate} layers={figure.layers} caption={`${figure.candidate.name}, with ${figure.units} ${figure.pieces[0]?.name ?? ""}`} />
          ) : <p className="mt-3 flex gap-2"><Mark kind="stop" /><span>{figure?.problem}</span></p>}
          <Checks doc={edit.doc} />
        </aside>
        <div className="min-w-0 overflow-x-auto px-6 pb-5">
          <Grid doc={edit.doc} rows={rows} column={column} locked={locked} onColumn={setColumn} onBand={edit.setBand} foot={<Figures figures={edit.figures} column={column} />} />
          <p className="mt-2 text-small text-ink2">{locked ? "The owner changes recipes." : edit.changed ? <><b className="text-mind"><Mark kind="mind" /> Changed, not kept yet.</b> Your draft stays on this device. <button type="button" className="text-action underline" onClick={edit.drop}>Throw it away</button></> : "Arrows move, Enter or a number changes a cell."}</p>
        </div>
      </div>
      <Sheet open={keeping} onOpenChange={setKeeping} title={`Keep as version ${data.version.number + 1}`} description="Open orders follow it; packed ones keep theirs.">
        <form className="flex flex-col gap-4" onSubmit={(event) => { event.preventDefault(); edit.keep.mutate(reason, { onSuccess: () => { setKeeping(false); setReason(""); } }); }}>
          <Field label="Why it changes" autoFocus required minLength={3} maxLength={200} value={reason} onChange={(event) => setReason(event.target.value)} />
          <ProblemNote error={edit.keep.error} />
          <div className="flex gap-3"><Button type="submit" kind="next" disabled={edit.keep.isPending}>Keep it</Button><Button onClick={() => setKeeping(false)}>Not yet</Button></div>
        </form>
      </Sheet>
      <Sheet open={history} onOpenChange={setHistory} title={`Versions of ${data.name}`}>{history ? <History id={data.id} /> : null}</Sheet>
    </>
  );
}

function Checks({ doc }: { doc: Schemas["RecipeFile"] }) {
  const parts: [string, readonly string[]][] = [["Look at the goods", doc.goods_checks], ["Wrapping", doc.wrap_note ? [doc.wrap_note] : []], ["Prove it", doc.proving_checks], ["Mind", doc.cautions]];
  return (
    <dl className="mt-2 text-small">
      {parts.filter(([, lines]) => lines.length > 0).map(([name, lines]) => <div key={name} className="grid grid-cols-[104px_1fr] border-t border-line py-1"><dt className="text-ink2">{name}</dt><dd>{lines.join(" ")}</dd></div>)}
    </dl>
  );
}

function History({ id }: { id: number }) {
  const list = useQuery(versions(id));
  if (list.isPending) return <Waiting what="the versions" />;
  if (list.isError) return <ProblemNote error={list.error} />;
  return <ul>{list.data.results.map((row) => <li key={row.number} className="border-t border-line py-2"><b>Version {row.number}</b> <span className="text-ink2">{dayWords(row.at)}, {row.author}</span><span className="block">{row.reason}</span></li>)}</ul>;
}
