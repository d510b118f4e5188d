/** Cupboard: what do we have, what is reserved, what needs attention? Shelves as they stand in the room. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { supplies } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { shortQuantity } from "../../domain/units";
import { SHELF_WORDS } from "../../domain/words";
import { Slot } from "../../drawings/Slot";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { NeedsALook } from "./NeedsALook";
import { ReclaimSheet } from "./ReclaimSheet";
import { SupplyPanel } from "./SupplyPanel";
import { SupplyTable } from "./SupplyTable";

export type Supply = Schemas["SupplyOut"];

export const isShort = (supply: Supply): boolean =>
  supply.reorder_at !== null && Number(supply.on_hand) < Number(supply.reorder_at);

export function CupboardScreen() {
  const list = useQuery(supplies());
  const [params, setParams] = useSearchParams();
  const format = useFormat();
  const [reclaiming, setReclaiming] = useState(false);
  const rows = list.data?.results ?? [];
  const picked = rows.find((row) => String(row.id) === params.get("supply"));
  const asTable = params.get("as") === "table";
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes)) {
      if (value === null) next.delete(key);
      else next.set(key, value);
    }
    setParams(next, { replace: true });
  };
  const pick = (supply: Supply | undefined) => {
    if (supply) set({ supply: String(supply.id) });
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
    { key: "r", label: "Add a reclaimed carton", run: () => setReclaiming(true) },
    {
      key: "t",
      label: asTable ? "As shelves" : "As a table",
      run: () => set({ as: asTable ? null : "table" }),
    },
    { key: "escape", label: "Close the supply", run: () => set({ supply: null }) },
  ]);
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
  if (rows.length === 0)
    return (
      <Empty title="The cupboard is empty">
        <p>
          Import a supplies file: ./calm import supplies FILE. Its columns are in
          docs/formats/supplies.md.
        </p>
      </Empty>
    );
  const worth = rows.reduce(
    (sum, row) => sum + Math.max(0, Number(row.on_hand)) * Number(row.average_cost),
    0,
  );
  const shelves = [...new Set(rows.map((row) => row.shelf))];
  const short = rows.filter(isShort).length;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_360px] max-lg:grid-cols-1">
      <div className="min-w-0 pb-6">
        <ScreenHead
          title={
            short === 0
              ? "Nothing needs reordering"
              : `${short} ${short === 1 ? "supply needs" : "supplies need"} reordering`
          }
          under={`${shelves.length} ${shelves.length === 1 ? "shelf" : "shelves"}, ${rows.length} ${rows.length === 1 ? "supply" : "supplies"}, stock value ${format.money(worth)} at cost`}
        >
          <Button hotkey="R" onClick={() => setReclaiming(true)}>
            Reclaimed carton
          </Button>
          <Button hotkey="T" onClick={() => set({ as: asTable ? null : "table" })}>
            {asTable ? "As shelves" : "As a table"}
          </Button>
        </ScreenHead>
        {asTable ? (
          <SupplyTable rows={rows} picked={picked} onPick={pick} />
        ) : (
          shelves.map((shelf) => (
            <Shelf
              key={shelf}
              shelf={shelf}
              rows={rows.filter((row) => row.shelf === shelf)}
              picked={picked}
              onPick={pick}
            />
          ))
        )}
        <p className="mt-2 flex flex-wrap gap-6 px-6 text-small text-ink2">
          <span>
            <i aria-hidden="true" className="mr-2 inline-block size-3.5 bg-promised align-[-2px]" />
            reserved for open orders
          </span>
          <span>
            <i aria-hidden="true" className="mr-2 inline-block size-3.5 bg-level align-[-2px]" />
            free
          </span>
          <span>
            <i aria-hidden="true" className="mr-2 inline-block h-[3px] w-4 bg-ink align-middle" />
            reorder at
          </span>
          <span>
            <Mark kind="stop" /> below the reorder mark
          </span>
        </p>
      </div>
      <aside
        className="border-l border-line bg-sheet px-6 py-5 max-lg:border-l-0 max-lg:border-t"
        aria-label={picked ? picked.name : "What needs attention"}
      >
        {picked ? (
          <SupplyPanel key={picked.id} supply={picked} onClose={() => set({ supply: null })} />
        ) : (
          <NeedsALook rows={rows} onPick={pick} />
        )}
      </aside>
      <ReclaimSheet
        shelf={picked?.shelf ?? shelves[0] ?? "A"}
        open={reclaiming}
        onOpenChange={setReclaiming}
      />
    </div>
  );
}

function Shelf({
  shelf,
  rows,
  picked,
  onPick,
}: {
  shelf: string;
  rows: Supply[];
  picked: Supply | undefined;
  onPick: (supply: Supply) => void;
}) {
  const format = useFormat();
  return (
    <section className="px-6 pb-1" aria-label={`Shelf ${shelf}`}>
      <h2 className="mb-1 text-[15px]">
        {shelf} <span className="ml-1.5 text-ink2">{SHELF_WORDS[shelf] ?? ""}</span>
      </h2>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(112px,1fr))] gap-x-2.5 gap-y-2">
        {rows.map((row) => {
          const here = row.id === picked?.id;
          return (
            <li key={row.id} id={`slot-${row.id}`}>
              <button
                type="button"
                aria-pressed={here}
                onClick={() => onPick(row)}
                className={`block w-full rounded-part p-1 text-left ${here ? "bg-soft outline outline-2 outline-action" : "hover:bg-sheet"}`}
              >
                <Slot
                  label=""
                  onHand={Number(row.on_hand)}
                  reserved={Number(row.reserved)}
                  reorderAt={row.reorder_at === null ? null : Number(row.reorder_at)}
                />
                <span className="mt-1 line-clamp-2 h-[33px] text-small leading-tight">
                  <span className="text-ink2">{row.slot}</span> {row.name}
                </span>
                <span className="flex items-baseline justify-between text-small">
                  <b className="whitespace-nowrap">
                    {shortQuantity(row.on_hand, row.unit, format.system)}
                    <span className="sr-only">
                      {" "}
                      on hand, {shortQuantity(row.reserved, row.unit, format.system)} reserved
                      {isShort(row) ? ", below the reorder mark" : ""}
                    </span>
                  </b>
                  {isShort(row) ? (
                    <Mark kind="stop" />
                  ) : (
                    <span className="whitespace-nowrap text-ink2">
                      {shortQuantity(row.free, "pieces", format.system)} free
                    </span>
                  )}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      <div aria-hidden="true" className="mt-1 h-[6px] bg-board" />
    </section>
  );
}
