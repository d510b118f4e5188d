/** One shelf as it stands in the room: its slots in order, how full each is, what of it is reserved. */
import { useState } from "react";
import { useFormat } from "../../app/session";
import { shortQuantity } from "../../domain/units";
import { SHELF_WORDS } from "../../domain/words";
import { Slot } from "../../drawings/Slot";
import { Mark } from "../../ui/parts";
import { coverWords, isShort, type Covers, type Supply } from "./supply";

export function Shelf({
  shelf,
  name,
  rows,
  cover,
  picked,
  onPick,
  onName,
  onMove,
}: {
  shelf: string;
  name: string | undefined;
  rows: Supply[];
  cover: Covers;
  picked: Supply | undefined;
  onPick: (supply: Supply) => void;
  onName: (name: string) => void;
  /** A supply was dragged here: to a place of this shelf. */
  onMove: (id: number, slot: number) => void;
}) {
  const format = useFormat();
  return (
    <section className="px-6 pb-1" aria-label={`Shelf ${shelf}`}>
      <ShelfName shelf={shelf} name={name ?? SHELF_WORDS[shelf] ?? ""} onName={onName} />
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(112px,1fr))] gap-x-2.5 gap-y-2">
        {rows.map((row, at) => {
          const here = row.id === picked?.id;
          return (
            <li key={row.id} id={`slot-${row.id}`}>
              <button
                type="button"
                aria-pressed={here}
                onClick={() => onPick(row)}
                draggable
                onDragStart={(event) => event.dataTransfer.setData(DRAGGED, String(row.id))}
                onDragOver={(event) => {
                  if (event.dataTransfer.types.includes(DRAGGED)) event.preventDefault();
                }}
                onDrop={(event) => {
                  const id = Number(event.dataTransfer.getData(DRAGGED));
                  if (id && id !== row.id) onMove(id, at + 1);
                }}
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
                    <span
                      className={`whitespace-nowrap ${cover.get(row.id)?.listed === "due" ? "font-semibold text-stop" : "text-ink2"}`}
                    >
                      {coverWords(cover.get(row.id)) ||
                        `${shortQuantity(row.free, "pieces", format.system)} free`}
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

const DRAGGED = "text/x-supply";

/** The letter and what stands there; a click changes the words. */
function ShelfName({
  shelf,
  name,
  onName,
}: {
  shelf: string;
  name: string;
  onName: (name: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const done = () => {
    if (typed !== null && typed.trim() !== name) onName(typed.trim());
    setTyped(null);
  };
  return (
    <h2 className="mb-1 text-[15px]">
      {shelf}{" "}
      {typed === null ? (
        <button
          type="button"
          title="Change what stands here"
          className="ml-1.5 text-ink2 hover:text-ink hover:underline"
          onClick={() => setTyped(name)}
        >
          {name || "name this shelf"}
        </button>
      ) : (
        <input
          aria-label={`What stands on shelf ${shelf}`}
          autoFocus
          maxLength={60}
          className="ml-1.5 h-7 rounded-part border border-line2 bg-sheet px-2"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={done}
          onKeyDown={(event) => {
            if (event.key === "Enter") done();
            if (event.key === "Escape") setTyped(null);
          }}
        />
      )}
    </h2>
  );
}

/** What the marks of the slots say. */
export function ShelfKey() {
  return (
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
  );
}
