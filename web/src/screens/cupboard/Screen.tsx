/** Cupboard: what do we have, what is reserved, what needs attention? Shelves as they stand in the room. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { supplies } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { useAddress } from "../../ui/list/useList";
import { Button, Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { NeedsALook } from "./NeedsALook";
import { ReclaimSheet } from "./ReclaimSheet";
import { Shelf, ShelfKey } from "./Shelf";
import { isShort, type Supply } from "./supply";
import { SupplyPanel } from "./SupplyPanel";
import { SupplyTable } from "./SupplyTable";

export function CupboardScreen() {
  const list = useQuery(supplies());
  const [params, set] = useAddress();
  const format = useFormat();
  const [reclaiming, setReclaiming] = useState(false);
  const rows = list.data?.results ?? [];
  const picked = rows.find((row) => String(row.id) === params.get("supply"));
  const asTable = params.get("as") === "table";
  const pick = (supply: Supply | undefined) => {
    if (supply) set({ supply: String(supply.id) });
  };
  useCupboardKeys({
    rows,
    picked,
    asTable,
    onPick: pick,
    onReclaim: () => setReclaiming(true),
    onTable: () => set({ as: asTable ? null : "table" }),
    onClose: () => set({ supply: null }),
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
        <ShelfKey />
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

/** Arrows walk along a shelf and from shelf to shelf. */
function useCupboardKeys({
  rows,
  picked,
  asTable,
  onPick: pick,
  onReclaim,
  onTable,
  onClose,
}: {
  rows: readonly Supply[];
  picked: Supply | undefined;
  asTable: boolean;
  onPick: (supply: Supply | undefined) => void;
  onReclaim: () => void;
  onTable: () => void;
  onClose: () => void;
}) {
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
    {
      key: "t",
      label: asTable ? "As shelves" : "As a table",
      run: onTable,
    },
    { key: "escape", label: "Close the supply", run: onClose },
  ]);
}
