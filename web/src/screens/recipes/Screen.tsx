/** A recipe: how this product is packed for one, for two, for six. The section follows the column the hand is in. */
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { recipe, recipeSteps, supplies } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { Section } from "../../drawings/Section";
import { Sheet, useToast } from "../../ui/overlays";
import { Button, Field, Mark, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { AddSheet } from "./AddSheet";
import { BandsSheet } from "./BandsSheet";
import { Figures } from "./Figures";
import { Grid } from "./Grid";
import { bandName, rowsOf } from "./rows";
import { TrialsSheet } from "./TrialsSheet";
import { useRecipe } from "./useRecipe";
import { VersionsSheet } from "./VersionsSheet";
import { WaysSheet } from "./WaysSheet";
import { WordsSheet } from "./WordsSheet";

type Sheets = "keep" | "versions" | "add" | "bands" | "words" | "ways" | "trials" | null;

export function RecipeScreen() {
  const id = Number(useParams().recipeId);
  const found = useQuery(recipe(id));
  const shelf = useQuery(supplies());
  if (found.isPending || shelf.isPending) return <Waiting what="the recipe" />;
  if (found.isError || shelf.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error ?? shelf.error} />
      </div>
    );
  return <RecipeOf key={id} data={found.data} supplies={shelf.data.results} />;
}

function RecipeOf({
  data,
  supplies: shelf,
}: {
  data: Schemas["RecipeOut"];
  supplies: Schemas["SupplyOut"][];
}) {
  const who = useSession();
  const format = useFormat();
  const say = useToast();
  const navigate = useNavigate();
  const edit = useRecipe(data);
  const [at, setColumn] = useState(0);
  const [row, setRow] = useState(0);
  const [all, setAll] = useState(false);
  const [sheet, setSheet] = useState<Sheets>(null);
  const [faults, setFaults] = useState<string[]>([]);
  const locked = who.role !== "owner";
  const rows = useMemo(
    () => rowsOf(edit.doc, shelf, format.system, all),
    [edit.doc, shelf, format.system, all],
  );
  const column = Math.min(at, edit.doc.bands.length - 1);
  const band = edit.doc.bands[column];
  const figure = edit.figures.find((one) => one.first === band?.first) ?? edit.figures[column];
  const close = () => setSheet(null);
  useActions([
    {
      key: "k",
      label: "Save as a new version",
      run: () => setSheet("keep"),
      off: !edit.changed || locked,
    },
    { key: "z", label: "Undo the last change", run: edit.undo, off: !edit.canUndo },
    { key: "y", label: "Redo the change", run: edit.redo, off: !edit.canRedo },
    { key: "a", label: "Add a supply", run: () => setSheet("add"), off: locked },
    {
      key: "b",
      label: "Order sizes: split, join, move",
      run: () => setSheet("bands"),
      off: locked,
    },
    { key: "e", label: "Checks, cautions, work ahead, notes", run: () => setSheet("words") },
    { key: "m", label: all ? "The usual rows" : "All rows", run: () => setAll(!all) },
    { key: "o", label: "Other ways to pack this size", run: () => setSheet("ways") },
    { key: "t", label: "Tests", run: () => setSheet("trials") },
    { key: "v", label: "Versions", run: () => setSheet("versions") },
    {
      key: "p",
      label: "Print the card for the wall",
      run: () => window.open(`/api/recipes/${data.id}/card.pdf`, "_blank", "noopener"),
    },
    { key: "escape", label: "Back to all recipes", run: () => void navigate("/recipes") },
  ]);
  return (
    <>
      <ScreenHead
        title={data.name}
        under={
          <span className="line-clamp-1">
            Version {data.version.number}, {dayWords(data.version.at)}, {data.version.author}: “
            {data.version.reason}”. Packs{" "}
            {data.products.map((product) => product.name).join(", ") || "no product yet"}.
          </span>
        }
      >
        <Button hotkey="O" onClick={() => setSheet("ways")}>
          Other ways
        </Button>
        <Button hotkey="T" onClick={() => setSheet("trials")}>
          Tests
        </Button>
        <Button hotkey="V" onClick={() => setSheet("versions")}>
          Versions
        </Button>
        {locked ? null : (
          <Button kind="next" hotkey="K" disabled={!edit.changed} onClick={() => setSheet("keep")}>
            Save as version {data.version.number + 1}
          </Button>
        )}
      </ScreenHead>
      {edit.behind ? (
        <Notice
          kind="mind"
          action={
            <Button onClick={edit.rebase}>Continue from version {data.version.number}</Button>
          }
        >
          <b>Version {data.version.number} was saved while you worked.</b> Your change is still
          here; look at both before you save it.
        </Notice>
      ) : null}
      {edit.figuresError ? <ProblemNote error={edit.figuresError} /> : null}
      {faults.length > 0 ? (
        <Notice
          kind="mind"
          action={
            <Button kind="quiet" onClick={() => setFaults([])}>
              OK
            </Button>
          }
        >
          Not pasted: {faults.slice(0, 4).join(". ")}
          {faults.length > 4 ? `. And ${faults.length - 4} more` : ""}.
        </Notice>
      ) : null}
      <div className="grid grid-cols-[420px_minmax(0,1fr)] border-t border-line bg-sheet max-lg:grid-cols-1">
        <aside
          className="border-r border-line px-6 py-3"
          aria-label="The parcel of this order size"
        >
          <h2 className="text-[15px] text-ink2">
            Packed for {band ? bandName(band) : ""}, cut from the side
          </h2>
          {figure?.candidate ? (
            <Section
              parcel={figure.candidate}
              layers={figure.layers}
              caption={`${figure.candidate.name}, with ${figure.units} ${figure.pieces[0]?.name ?? ""}`}
            />
          ) : (
            <p className="mt-3 flex gap-2">
              <Mark kind="stop" />
              <span>{figure?.problem}</span>
            </p>
          )}
          <Minded figure={figure} />
          <Steps id={data.id} first={band?.first} />
          <Words doc={edit.doc} onChange={() => setSheet("words")} locked={locked} />
        </aside>
        <div className="min-w-0 px-6 pb-5">
          <Grid
            doc={edit.doc}
            rows={rows}
            column={column}
            row={Math.min(row, rows.length - 1)}
            locked={locked}
            onColumn={setColumn}
            onRow={setRow}
            onBand={edit.setBand}
            onDoc={edit.change}
            onFaults={(found, changed) => {
              setFaults(found);
              if (changed > 0) say(`${changed} ${changed === 1 ? "cell" : "cells"} pasted.`);
            }}
            foot={<Figures figures={edit.figures} column={column} />}
          />
          <p className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-small text-ink2">
            {locked ? (
              "The owner changes recipes."
            ) : edit.changed ? (
              <span>
                <b className="text-mind">
                  <Mark kind="mind" /> Changed, not saved yet.
                </b>{" "}
                Your draft stays on this device.
              </span>
            ) : (
              <span>Arrows move, Enter or a number changes a cell.</span>
            )}
            {edit.changed ? (
              <button type="button" className="text-action underline" onClick={edit.drop}>
                Undo changes
              </button>
            ) : null}
            {locked ? null : (
              <>
                <KeyWord name="A" text="add" run={() => setSheet("add")} />
                <KeyWord name="B" text="order sizes" run={() => setSheet("bands")} />
              </>
            )}
            <KeyWord name="M" text={all ? "the usual rows" : "all rows"} run={() => setAll(!all)} />
            {edit.canUndo ? <KeyWord name="Z" text="undo" run={edit.undo} /> : null}
            {edit.canRedo ? <KeyWord name="Y" text="redo" run={edit.redo} /> : null}
            <KeyWord
              name="P"
              text="card"
              run={() => window.open(`/api/recipes/${data.id}/card.pdf`, "_blank", "noopener")}
            />
          </p>
        </div>
      </div>
      <KeepSheet
        open={sheet === "keep"}
        onClose={close}
        number={data.version.number + 1}
        keep={edit.keep}
      />
      <AddSheet
        open={sheet === "add"}
        onClose={close}
        doc={edit.doc}
        supplies={shelf}
        onChange={edit.change}
      />
      <BandsSheet open={sheet === "bands"} onClose={close} doc={edit.doc} onChange={edit.change} />
      <WordsSheet
        key={`words-${String(sheet === "words")}`}
        open={sheet === "words"}
        onClose={close}
        doc={edit.doc}
        locked={locked}
        onChange={edit.change}
      />
      <WaysSheet
        open={sheet === "ways"}
        onClose={close}
        id={data.id}
        doc={edit.doc}
        column={column}
        locked={locked}
        onBand={edit.setBand}
      />
      <TrialsSheet
        open={sheet === "trials"}
        onClose={close}
        id={data.id}
        version={data.version.number}
        figures={data.figures}
      />
      <VersionsSheet
        open={sheet === "versions"}
        onClose={close}
        id={data.id}
        name={data.name}
        newest={data.version.number}
      />
    </>
  );
}

function KeyWord({ name, text, run }: { name: string; text: string; run: () => void }) {
  return (
    <button type="button" onClick={run} className="hover:text-ink">
      <span className="keycap" aria-hidden="true">
        {name}
      </span>{" "}
      {text}
    </button>
  );
}

function KeepSheet({
  open,
  onClose,
  number,
  keep,
}: {
  open: boolean;
  onClose: () => void;
  number: number;
  keep: ReturnType<typeof useRecipe>["keep"];
}) {
  const [reason, setReason] = useState("");
  return (
    <Sheet
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`Save as version ${number}`}
      description="Open orders follow it; packed ones keep theirs."
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate(reason, {
            onSuccess: () => {
              onClose();
              setReason("");
            },
          });
        }}
      >
        <Field
          label="Why it changes"
          autoFocus
          required
          minLength={3}
          maxLength={200}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <ProblemNote error={keep.error} />
        <div className="flex gap-3">
          <Button type="submit" kind="next" disabled={keep.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Not yet</Button>
        </div>
      </form>
    </Sheet>
  );
}

/** What needs attention in this band: price steps, weak board, policies it does not keep to. */
function Minded({ figure }: { figure: Schemas["BandFigures"] | undefined }) {
  const told = [...(figure?.warnings ?? []), ...(figure?.marked ?? [])];
  if (told.length === 0) return null;
  return (
    <ul className="mt-1 text-small">
      {told.slice(0, 4).map((words) => (
        <li key={words} className="flex gap-2 py-0.5">
          <Mark kind="mind" />
          <span>{words}</span>
        </li>
      ))}
    </ul>
  );
}

/** The price steps that past orders of this recipe just missed; those of the column the hand is in stand out. */
function Steps({ id, first }: { id: number; first: number | undefined }) {
  const found = useQuery(recipeSteps(id));
  if (!found.data || found.data.steps.length + found.data.recurring.length === 0) return null;
  return (
    <ul className="mt-1 text-small" aria-label="Price steps just missed">
      {found.data.recurring.slice(0, 2).map((one) => (
        <li key={one.words} className="flex gap-2">
          <Mark kind="mind" />
          <span>
            <b className="font-semibold">{one.words}</b>: {many(one.orders, "order")} would have
            saved {one.saves} in total.
          </span>
        </li>
      ))}
      {found.data.steps.slice(0, 3).map((step) => (
        <li
          key={`${step.first}-${step.measure}`}
          className={`flex gap-2 border-t border-line py-1 ${step.first === first ? "" : "text-ink2"}`}
        >
          <Mark kind={step.first === first ? "mind" : "ok"} />
          <span>{step.sentence}</span>
        </li>
      ))}
    </ul>
  );
}

function Words({
  doc,
  onChange,
  locked,
}: {
  doc: Schemas["RecipeFile"];
  onChange: () => void;
  locked: boolean;
}) {
  const parts: [string, readonly string[]][] = [
    [
      "Before packing",
      doc.ahead.map((one) => `${Number(one.hours_before)} h before: ${one.what}.`),
    ],
    ["Check goods", doc.goods_checks],
    ["Wrapping", doc.wrap_note ? [doc.wrap_note] : []],
    ["Test it", doc.proving_checks],
    ["Cautions", doc.cautions],
    ["For the buyer", doc.buyer_note ? [doc.buyer_note] : []],
    ["For the mix", doc.mix.map((one) => `${one.quantity} ${one.sku}`)],
    ["Trial", doc.trial_needed ? ["Not ready before one is passed."] : []],
  ];
  return (
    <>
      <dl className="mt-2 text-small">
        {parts
          .filter(([, lines]) => lines.length > 0)
          .map(([name, lines]) => (
            <div key={name} className="grid grid-cols-[104px_1fr] border-t border-line py-1">
              <dt className="text-ink2">{name}</dt>
              <dd>{lines.join(" ")}</dd>
            </div>
          ))}
      </dl>
      <div className="border-t border-line py-1 text-small">
        <button type="button" onClick={onChange} className="text-ink2 hover:text-ink">
          <span className="keycap" aria-hidden="true">
            E
          </span>{" "}
          {locked ? "read all of it" : "change these words"}
        </button>
      </div>
    </>
  );
}
