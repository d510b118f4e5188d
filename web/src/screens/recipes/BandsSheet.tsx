/** Order sizes of a recipe: where each ends, split in two, joined with the next, one more after the last. */
import { useState } from "react";
import { Table } from "../../ui/list/Table";
import { Sheet } from "../../ui/Sheet";
import { Button, Notice } from "../../ui/parts";
import { extended, joined, split, withLast } from "./edits";
import { bandName, type RecipeDoc } from "./rows";

export function BandsSheet({
  open,
  onClose,
  doc,
  onChange,
}: {
  open: boolean;
  onClose: () => void;
  doc: RecipeDoc;
  onChange: (doc: RecipeDoc) => void;
}) {
  const [fault, setFault] = useState("");
  const take = (next: RecipeDoc | string) => {
    if (typeof next === "string") setFault(next);
    else {
      setFault("");
      onChange(next);
    }
  };
  return (
    <Sheet
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Order sizes"
      description="They follow each other from 1 unit on, without gaps and without overlap."
      wide
    >
      {fault ? <Notice kind="stop">{fault}</Notice> : null}
      <Table
        caption="Order sizes"
        rows={doc.bands}
        rowKey={(band) => `${band.first}-${band.last}`}
        columns={[
          {
            key: "from",
            name: "From",
            className: "pt-3! font-semibold",
            cell: (band) => band.first,
          },
          {
            key: "to",
            name: "To",
            className: "w-28",
            cell: (band, at) => (
              <input
                aria-label={`Last size of ${bandName(band)}`}
                className="min-h-10 w-20 rounded-part border border-line2 bg-sheet px-3"
                defaultValue={String(band.last)}
                inputMode="numeric"
                onBlur={(event) => {
                  const last = Number(event.target.value);
                  if (last !== band.last) take(withLast(doc, at, last));
                }}
                onKeyDown={(event) => {
                  if (event.key === "Enter") event.currentTarget.blur();
                }}
              />
            ),
          },
          {
            key: "outer",
            name: "Packed in",
            className: "pt-3!",
            cell: (band) => band.outers[0] ?? "any that fits",
          },
          {
            key: "change",
            name: "Change",
            quiet: true,
            cell: (band, at) => (
              <div className="flex justify-end gap-2 pt-1">
                <Button
                  disabled={band.first === band.last}
                  onClick={() => take(split(doc, at, Math.floor((band.first + band.last - 1) / 2)))}
                >
                  Split
                </Button>
                <Button
                  disabled={at === doc.bands.length - 1}
                  onClick={() => take(joined(doc, at))}
                >
                  Join with next
                </Button>
              </div>
            ),
          },
        ]}
      />
      <div className="mt-4 flex gap-3">
        <Button onClick={() => onChange(extended(doc))}>
          One more after {doc.bands.at(-1)?.last}
        </Button>
        <Button kind="next" onClick={onClose}>
          Done
        </Button>
      </div>
    </Sheet>
  );
}
