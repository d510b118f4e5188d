/** A recipe: how this product is packed for one, for two, for six. The section follows the column the hand is in. */
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { supplies } from "../../api/cupboard";
import { recipe } from "../../api/recipes";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { useToast } from "../../ui/useToast";
import { Button, Mark, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Arrived } from "./Arrived";
import { BandAside } from "./BandAside";
import { CopyRetire } from "./CopyRetire";
import { Figures } from "./Figures";
import { Grid } from "./Grid";
import { RecipeSheets, type SheetName } from "./RecipeSheets";
import { rowsOf } from "./rows";
import { useRecipe } from "./useRecipe";

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
  const edit = useRecipe(data);
  const [at, setColumn] = useState(0);
  const [row, setRow] = useState(0);
  const [all, setAll] = useState(false);
  const [sheet, setSheet] = useState<SheetName>(null);
  const [faults, setFaults] = useState<string[]>([]);
  const locked = who.role !== "owner";
  const rows = useMemo(
    () => rowsOf(edit.doc, shelf, format.system, all),
    [edit.doc, shelf, format.system, all],
  );
  const column = Math.min(at, edit.doc.bands.length - 1);
  const band = edit.doc.bands[column];
  const figure = edit.figures.find((one) => one.first === band?.first) ?? edit.figures[column];
  const openCard = () => window.open(`/api/recipes/${data.id}/card.pdf`, "_blank", "noopener");
  useRecipeKeys({
    edit,
    locked,
    all,
    onAll: () => setAll(!all),
    onSheet: setSheet,
    onCard: openCard,
  });
  return (
    <>
      <ScreenHead
        title={data.name}
        under={
          <span className="line-clamp-2">
            Version {data.version.number}, {dayWords(data.version.at)}, {data.version.author}: “
            {data.version.reason}”. <Arrived id={data.id} /> Packs{" "}
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
      <Notes data={data} edit={edit} faults={faults} onSeen={() => setFaults([])} />
      <div className="grid grid-cols-[420px_minmax(0,1fr)] border-t border-line bg-sheet max-lg:grid-cols-1">
        <BandAside
          id={data.id}
          doc={edit.doc}
          band={band}
          figure={figure}
          locked={locked}
          onWords={() => setSheet("words")}
        />
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
              if (changed > 0) say(`${many(changed, "cell")} pasted.`);
            }}
            foot={<Figures figures={edit.figures} column={column} />}
          />
          <GridFoot
            edit={edit}
            locked={locked}
            all={all}
            onAll={() => setAll(!all)}
            onSheet={setSheet}
            onCard={openCard}
            data={data}
          />
        </div>
      </div>
      <RecipeSheets
        sheet={sheet}
        onClose={() => setSheet(null)}
        data={data}
        edit={edit}
        supplies={shelf}
        column={column}
        locked={locked}
      />
    </>
  );
}

type Edit = ReturnType<typeof useRecipe>;

interface HandProps {
  edit: Edit;
  locked: boolean;
  all: boolean;
  onAll: () => void;
  onSheet: (sheet: SheetName) => void;
  onCard: () => void;
}

function useRecipeKeys({ edit, locked, all, onAll, onSheet, onCard }: HandProps) {
  const navigate = useNavigate();
  useActions([
    {
      key: "k",
      label: "Save as a new version",
      run: () => onSheet("keep"),
      off: !edit.changed || locked,
    },
    { key: "z", label: "Undo the last change", run: edit.undo, off: !edit.canUndo },
    { key: "y", label: "Redo the change", run: edit.redo, off: !edit.canRedo },
    { key: "a", label: "Add a supply", run: () => onSheet("add"), off: locked },
    {
      key: "b",
      label: "Order sizes: split, join, move",
      run: () => onSheet("bands"),
      off: locked,
    },
    { key: "e", label: "Checks, cautions, work ahead, notes", run: () => onSheet("words") },
    { key: "m", label: all ? "The usual rows" : "All rows", run: onAll },
    { key: "o", label: "Other ways to pack this size", run: () => onSheet("ways") },
    { key: "t", label: "Tests", run: () => onSheet("trials") },
    { key: "v", label: "Versions", run: () => onSheet("versions") },
    {
      key: "p",
      label: "Print the card for the wall",
      run: onCard,
    },
    { key: "escape", label: "Back to all recipes", run: () => void navigate("/recipes") },
  ]);
}

function Notes({
  data,
  edit,
  faults,
  onSeen,
}: {
  data: Schemas["RecipeOut"];
  edit: Edit;
  faults: readonly string[];
  onSeen: () => void;
}) {
  return (
    <>
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
            <Button kind="quiet" onClick={onSeen}>
              OK
            </Button>
          }
        >
          Not pasted: {faults.slice(0, 4).join(". ")}
          {faults.length > 4 ? `. And ${faults.length - 4} more` : ""}.
        </Notice>
      ) : null}
    </>
  );
}

function GridFoot({
  edit,
  locked,
  all,
  onAll,
  onSheet,
  onCard,
  data,
}: HandProps & { data: Schemas["RecipeOut"] }) {
  return (
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
          <KeyWord name="A" text="add" run={() => onSheet("add")} />
          <KeyWord name="B" text="order sizes" run={() => onSheet("bands")} />
        </>
      )}
      <KeyWord name="M" text={all ? "the usual rows" : "all rows"} run={onAll} />
      {edit.canUndo ? <KeyWord name="Z" text="undo" run={edit.undo} /> : null}
      {edit.canRedo ? <KeyWord name="Y" text="redo" run={edit.redo} /> : null}
      <KeyWord name="P" text="card" run={onCard} />
      {locked ? null : <CopyRetire data={data} />}
    </p>
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
