/** Cupboard: what do we have, what is reserved, what needs attention? Shelves as they stand in the room. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { arrangeSupply, nameShelf, shelves, supplies } from "../../api/cupboard";
import { covers } from "../../api/buying";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { useAddress } from "../../ui/list/useList";
import { BESIDE, Button, Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Starter } from "../first-parcel/Starter";
import { NeedsALook } from "./NeedsALook";
import { ReclaimSheet } from "./ReclaimSheet";
import { RetiredSupplies } from "./RetiredSheet";
import { RetireSheet } from "./RetireSheet";
import { Shelf, ShelfKey } from "./Shelf";
import { isFound, isShort, type Covers, type Supply } from "./supply";
import { SupplyForm } from "./SupplyForm";
import { KIND_WORDS, type Kind } from "./supplyFields";
import { SupplyPanel } from "./SupplyPanel";
import { SupplyTable } from "./SupplyTable";
import { CupboardTabs } from "./Tabs";

type Open = "reclaim" | "retire" | "retired" | null;

export function CupboardScreen() {
  const list = useQuery(supplies());
  const names = useQuery(shelves());
  const rename = useMutation(nameShelf());
  const arrange = useMutation(arrangeSupply());
  const [params, set] = useAddress();
  const format = useFormat();
  const owner = useSession().role === "owner";
  const [open, setOpen] = useState<Open>(null);
  const all = list.data?.results ?? [];
  const cover = useCover();
  const find = params.get("find") ?? "";
  const only = params.get("only") ?? "";
  const rows = all.filter((row) => isFound(row, find, only, cover));
  const picked = rows.find((row) => String(row.id) === params.get("supply"));
  const asTable = params.get("as") === "table";
  const form = owner ? params.get("form") : null;
  const pick = (supply: Supply | undefined) => {
    if (supply) set({ supply: String(supply.id), form: null, new: null });
  };
  useCupboardKeys({
    rows,
    picked,
    asTable,
    owner,
    onPick: pick,
    onReclaim: () => setOpen("reclaim"),
    onTable: () => set({ as: asTable ? null : "table" }),
    onClose: () => set({ supply: null, new: null, form: null }),
    onNew: () => set({ new: "carton", supply: null, form: null }),
    onForm: (now) => set({ form: now }),
    onRetire: () => setOpen("retire"),
  });
  useEffect(() => {
    if (picked) document.getElementById(`slot-${picked.id}`)?.scrollIntoView({ block: "nearest" });
  }, [picked]);
  if (list.isPending) return <Waiting what="the cupboard" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const worth = rows.reduce(
    (sum, row) => sum + Math.max(0, Number(row.on_hand)) * Number(row.average_cost),
    0,
  );
  const letters = [...new Set(rows.map((row) => row.shelf))];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_360px] max-lg:grid-cols-1">
      <div className="min-w-0 pb-6">
        <CupboardTabs />
        <ScreenHead
          title={all.length === 0 ? "The cupboard is empty" : headline(all, cover)}
          under={`${find || only ? "shown: " : ""}${letters.length} ${letters.length === 1 ? "shelf" : "shelves"}, ${rows.length} ${rows.length === 1 ? "supply" : "supplies"}, stock value ${format.money(worth)} at cost`}
        >
          {owner ? (
            <Button
              kind={rows.length === 0 ? "next" : "plain"}
              hotkey="N"
              onClick={() => set({ new: "carton", supply: null, form: null })}
            >
              New supply
            </Button>
          ) : null}
          <Button hotkey="R" onClick={() => setOpen("reclaim")}>
            Reclaimed carton
          </Button>
          <Button hotkey="T" onClick={() => set({ as: asTable ? null : "table" })}>
            {asTable ? "As shelves" : "As a table"}
          </Button>
        </ScreenHead>
        {all.length > 0 ? (
          <Seek
            find={find}
            only={only}
            onSeek={set}
            kinds={[...new Set(all.map((row) => row.kind))]}
          />
        ) : null}
        {all.length > 0 && rows.length === 0 ? (
          <NoneLikeThat onAll={() => set({ find: null, only: null })} />
        ) : null}
        {asTable ? (
          <SupplyTable rows={rows} picked={picked} onPick={pick} />
        ) : (
          letters.map((shelf) => (
            <Shelf
              key={shelf}
              shelf={shelf}
              rows={rows.filter((row) => row.shelf === shelf)}
              cover={cover}
              picked={picked}
              onPick={pick}
              name={names.data?.names[shelf]}
              onName={(name) => rename.mutate({ letter: shelf, name })}
              onMove={(id, slot) => arrange.mutate({ id, shelf, slot })}
            />
          ))
        )}
        {rows.length === 0 ? null : <ShelfKey />}
        <Under onRetired={() => setOpen("retired")} />
      </div>
      <aside
        className="border-l border-line bg-sheet px-6 py-5 max-lg:border-l-0 max-lg:border-t"
        aria-label={picked ? picked.name : "Beside the shelves"}
      >
        <Beside
          rows={all}
          cover={cover}
          picked={picked}
          form={form}
          onPick={pick}
          onRetire={() => setOpen("retire")}
        />
      </aside>
      <Sheets open={open} picked={picked} shelf={letters[0] ?? "A"} onOpen={setOpen} />
    </div>
  );
}

function Sheets({
  open,
  picked,
  shelf,
  onOpen,
}: {
  open: Open;
  picked: Supply | undefined;
  shelf: string;
  onOpen: (open: Open) => void;
}) {
  return (
    <>
      <ReclaimSheet
        shelf={picked?.shelf ?? shelf}
        open={open === "reclaim"}
        onOpenChange={(now) => onOpen(now ? "reclaim" : null)}
      />
      {open === "retire" && picked ? (
        <RetireSheet supply={picked} onClose={() => onOpen(null)} />
      ) : null}
      {open === "retired" ? <RetiredSupplies onClose={() => onOpen(null)} /> : null}
    </>
  );
}

function NoneLikeThat({ onAll }: { onAll: () => void }) {
  return (
    <Empty title="No supply is like that">
      <button type="button" className="text-action underline" onClick={onAll}>
        Show all
      </button>
    </Empty>
  );
}

/** How long each supply lasts, by its id; empty until it is known. */
function useCover(): Covers {
  const found = useQuery(covers());
  return useMemo(
    () => new Map(found.data?.rows.map((one) => [one.supply_id, one]) ?? []),
    [found.data],
  );
}

function headline(rows: readonly Supply[], cover: Covers): string {
  const due = rows.filter((row) => {
    const listed = cover.get(row.id)?.listed;
    return listed === "due" || listed === "mark" || (cover.size === 0 && isShort(row));
  }).length;
  if (due === 0) return "Nothing needs ordering";
  return `${due} ${due === 1 ? "supply is" : "supplies are"} to be ordered now`;
}

/** Search, and what is shown of many. */
function Seek({
  find,
  only,
  kinds,
  onSeek,
}: {
  find: string;
  only: string;
  kinds: string[];
  onSeek: (change: Record<string, string | null>) => void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-2 px-6 pb-2">
      <input
        type="search"
        aria-label="Find a supply by name, code or place"
        placeholder="Name, code or place"
        className="min-h-10 w-56 rounded-part border border-line2 bg-sheet px-3"
        value={find}
        onChange={(event) => onSeek({ find: event.target.value })}
      />
      {["look", "asleep", ...kinds].map((one) => (
        <button
          key={one}
          type="button"
          aria-pressed={only === one}
          className={`min-h-10 rounded-part border px-3 text-small ${only === one ? "border-action bg-soft font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
          onClick={() => onSeek({ only: only === one ? null : one })}
        >
          {one === "look"
            ? "needs attention"
            : one === "asleep"
              ? "asleep"
              : KIND_WORDS[one as Kind].toLowerCase()}
        </button>
      ))}
    </div>
  );
}

function Under({ onRetired }: { onRetired: () => void }) {
  return (
    <p className="mt-3 flex gap-5 px-6 text-small">
      <a className="text-action underline" href="/api/supplies/places.pdf" {...BESIDE}>
        Print labels for the places
      </a>
      <button type="button" className="text-action underline" onClick={onRetired}>
        Retired supplies
      </button>
    </p>
  );
}

/** One supply, its form, a new one; or what needs attention, and the shelf to start from while there is little. */
function Beside({
  rows,
  cover,
  picked,
  form,
  onPick,
  onRetire,
}: {
  rows: readonly Supply[];
  cover: Covers;
  picked: Supply | undefined;
  form: string | null;
  onPick: (supply: Supply) => void;
  onRetire: () => void;
}) {
  const [params, set] = useAddress();
  const owner = useSession().role === "owner";
  const kind = params.get("new");
  if (owner && kind !== null && kind in KIND_WORDS)
    return (
      <SupplyForm
        key={kind}
        kind={kind as Kind}
        supply={null}
        all={rows}
        onKind={(now) => set({ new: now })}
        onClose={() => set({ new: null })}
        onSaved={(now) => set({ new: null, supply: String(now.id) })}
      />
    );
  if (picked && form)
    return (
      <SupplyForm
        key={`${form}-${picked.id}`}
        kind={picked.facts.kind}
        supply={picked}
        copy={form === "copy"}
        all={rows}
        onKind={() => undefined}
        onClose={() => set({ form: null })}
        onSaved={(now) => set({ form: null, supply: String(now.id) })}
      />
    );
  if (picked)
    return (
      <SupplyPanel
        key={picked.id}
        supply={picked}
        onClose={() => set({ supply: null })}
        {...(owner ? { onForm: (now: string) => set({ form: now }), onRetire } : {})}
      />
    );
  return (
    <>
      {rows.length > 0 ? <NeedsALook rows={[...rows]} cover={cover} onPick={onPick} /> : null}
      {owner && rows.length < 12 ? <Starter /> : null}
    </>
  );
}

/** Arrows walk along a shelf and from shelf to shelf. */
function useCupboardKeys({
  rows,
  picked,
  asTable,
  owner,
  onPick: pick,
  onReclaim,
  onTable,
  onClose,
  onNew,
  onForm,
  onRetire,
}: {
  rows: readonly Supply[];
  picked: Supply | undefined;
  asTable: boolean;
  owner: boolean;
  onPick: (supply: Supply | undefined) => void;
  onReclaim: () => void;
  onTable: () => void;
  onClose: () => void;
  onNew: () => void;
  onForm: (form: "change" | "copy") => void;
  onRetire: () => void;
}) {
  const arrange = useMutation(arrangeSupply());
  const move = (by: number) => {
    if (!picked || arrange.isPending) return;
    const there = rows.filter((row) => row.shelf === picked.shelf);
    const slot = there.findIndex((row) => row.id === picked.id) + 1 + by;
    if (slot >= 1 && slot <= there.length)
      arrange.mutate({ id: picked.id, shelf: picked.shelf, slot });
  };
  const lift = (by: number) => {
    if (!picked || arrange.isPending) return;
    const letter = String.fromCharCode(picked.shelf.charCodeAt(0) + by);
    if (/^[A-Z]$/.test(letter)) arrange.mutate({ id: picked.id, shelf: letter, slot: 99 });
  };
  const at = rows.findIndex((row) => row.id === picked?.id);
  const nextShelf = (by: number) => {
    const shelves = [...new Set(rows.map((row) => row.shelf))];
    const shelf =
      shelves[(shelves.indexOf(picked?.shelf ?? "") + by + shelves.length) % shelves.length];
    pick(rows.find((row) => row.shelf === shelf));
  };
  useActions([
    {
      key: "arrowright",
      label: "Next slot",
      run: () => pick(rows[Math.min(at + 1, rows.length - 1)]),
    },
    { key: "arrowleft", label: "Slot before", run: () => pick(rows[Math.max(at - 1, 0)]) },
    { key: "arrowdown", label: "Shelf below", run: () => nextShelf(1) },
    { key: "arrowup", label: "Shelf above", run: () => nextShelf(-1) },
    { key: "r", label: "Add a reclaimed carton", run: onReclaim },
    { key: "n", label: "New supply", run: onNew, off: !owner },
    { key: "e", label: "Change the supply", run: () => onForm("change"), off: !owner || !picked },
    { key: "d", label: "Copy the supply", run: () => onForm("copy"), off: !owner || !picked },
    { key: "x", label: "Retire the supply", run: onRetire, off: !owner || !picked },
    { key: ",", label: "Move it to the left", run: () => move(-1), off: !picked },
    { key: ".", label: "Move it to the right", run: () => move(1), off: !picked },
    { key: "[", label: "Move it to the shelf above", run: () => lift(-1), off: !picked },
    { key: "]", label: "Move it to the shelf below", run: () => lift(1), off: !picked },
    {
      key: "t",
      label: asTable ? "As shelves" : "As a table",
      run: onTable,
    },
    { key: "escape", label: "Close the supply", run: onClose },
  ]);
}
