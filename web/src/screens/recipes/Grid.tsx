/** The grid: rows are supplies in packing order, columns are order-size bands; arrows move, typing changes. */
import { Fragment, useEffect, useRef, useState } from "react";
import { useActions } from "../../app/keys";
import { SeekPick } from "../../ui/SeekPick";
import { copiedAcross, pasted, withLayerMoved } from "./edits";
import { bandName, type Band, type RecipeDoc, type Row } from "./rows";

interface Props {
  doc: RecipeDoc;
  rows: Row[];
  column: number;
  row: number;
  locked: boolean;
  onColumn: (n: number) => void;
  onRow: (change: (n: number) => number) => void;
  onBand: (at: number, band: Band) => void;
  onDoc: (doc: RecipeDoc) => void;
  onFaults: (faults: string[], changed: number) => void;
  foot: React.ReactNode;
}

export function Grid({
  doc,
  rows,
  column,
  row,
  locked,
  onColumn,
  onRow: setRow,
  onBand,
  onDoc,
  onFaults,
  foot,
}: Props) {
  const [editing, setEditing] = useState<{ text: string; fault: string } | null>(null);
  const grid = useRef<HTMLTableElement>(null);
  const present = rows[row];
  const band = doc.bands[column];
  const start = (text: string | null) => {
    if (locked || !present || !band) return;
    setEditing({ text: text ?? present.cell(band).raw, fault: "" });
  };
  const focusCell = () =>
    window.setTimeout(
      () => grid.current?.querySelector<HTMLElement>("[data-here=true]")?.focus(),
      0,
    );
  const finish = (text: string, by: number) => {
    if (!present || !band) return;
    const next = present.set(band, text);
    if (typeof next === "string") {
      setEditing({ text, fault: next });
      return;
    }
    setEditing(null);
    if (JSON.stringify(next) !== JSON.stringify(band)) onBand(column, next);
    setRow((n) => Math.min(Math.max(n + by, 0), rows.length - 1));
    focusCell();
  };
  const move = (dr: number, dc: number) => {
    setRow((n) => Math.min(Math.max(n + dr, 0), rows.length - 1));
    onColumn(Math.min(Math.max(column + dc, 0), doc.bands.length - 1));
    focusCell();
  };
  const moveLayer = (by: number) => {
    if (present?.layer === undefined) return;
    const to = present.layer + by;
    if (to < 0 || !doc.bands.some((one) => one.layers[to])) return;
    onDoc(withLayerMoved(doc, present.layer, to));
    const place = rows.findIndex((one) => one.key === `layer-${to}`);
    if (place >= 0) {
      setRow(() => place);
      focusCell();
    }
  };
  const [dragged, setDragged] = useState<number | null>(null);
  useActions([
    { key: "arrowdown", label: "Row below", run: () => move(1, 0) },
    { key: "arrowup", label: "Row above", run: () => move(-1, 0) },
    { key: "arrowright", label: "Next order size", run: () => move(0, 1) },
    { key: "arrowleft", label: "Order size before", run: () => move(0, -1) },
    { key: "enter", label: "Change the cell (or just type)", run: () => start(null), off: locked },
    {
      key: "c",
      label: "Copy the cell to the order sizes after it",
      run: () => {
        if (present) onDoc(copiedAcross(doc, present, column));
      },
      off: locked,
    },
    {
      key: "delete",
      label: "Cancel out of this band",
      run: () => {
        if (present?.clear && band) onBand(column, present.clear(band));
      },
      off: locked || !present?.clear,
    },
    {
      key: "[",
      label: "Layer before the one before it",
      run: () => moveLayer(-1),
      off: locked || present?.layer === undefined,
    },
    {
      key: "]",
      label: "Layer after the next one",
      run: () => moveLayer(1),
      off: locked || present?.layer === undefined,
    },
  ]);
  const put = (event: React.ClipboardEvent) => {
    if (locked || editing) return;
    event.preventDefault();
    const result = pasted(doc, rows, { row, column }, event.clipboardData.getData("text/plain"));
    if (result.changed > 0) onDoc(result.doc);
    onFaults(result.faults, result.changed);
  };
  const copyOut = (event: React.ClipboardEvent) => {
    if (editing || !present || !band || window.getSelection()?.toString()) return;
    event.preventDefault();
    event.clipboardData.setData("text/plain", present.cell(band).raw);
  };
  useEffect(() => {
    const type = (event: KeyboardEvent) => {
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        !/^[0-9.,]$/.test(event.key) ||
        editing ||
        present?.options ||
        locked
      )
        return;
      if (
        !(document.activeElement instanceof HTMLElement) ||
        !grid.current?.contains(document.activeElement)
      )
        return;
      event.preventDefault();
      start(event.key);
    };
    window.addEventListener("keydown", type);
    return () => window.removeEventListener("keydown", type);
  });
  return (
    <table
      ref={grid}
      onPaste={put}
      onCopy={copyOut}
      className="w-full table-fixed border-collapse"
      aria-label={`${doc.name}: amounts for each order size`}
    >
      <thead>
        <tr className="border-b border-ink">
          <th className="w-[30%] py-1.5 text-left font-normal text-ink2" scope="col">
            <span className="sr-only">What</span>
          </th>
          {doc.bands.map((one, at) => (
            <th
              key={one.first}
              scope="col"
              className={`px-3 py-1.5 text-right font-semibold ${at === column ? "bg-soft text-action" : ""}`}
            >
              <button type="button" aria-pressed={at === column} onClick={() => onColumn(at)}>
                {bandName(one)}
              </button>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((one, r) => (
          <Fragment key={one.key}>
            {one.group !== rows[r - 1]?.group ? (
              <tr className="border-b border-line">
                <th
                  scope="rowgroup"
                  className="pb-0 pt-1 text-left font-head text-small text-ink2"
                  colSpan={1}
                >
                  {one.group}
                </th>
                {doc.bands.map((b, at) => (
                  <td key={b.first} className={at === column ? "bg-soft" : ""} />
                ))}
              </tr>
            ) : null}
            <tr
              className={`border-b border-line ${dragged !== null && one.layer !== undefined && one.layer !== dragged ? "bg-hatch" : ""}`}
              draggable={!locked && one.layer !== undefined}
              onDragStart={() => setDragged(one.layer ?? null)}
              onDragEnd={() => setDragged(null)}
              onDragOver={(event) => {
                if (dragged !== null && one.layer !== undefined) event.preventDefault();
              }}
              onDrop={() => {
                if (dragged !== null && one.layer !== undefined)
                  onDoc(withLayerMoved(doc, dragged, one.layer));
                setDragged(null);
              }}
            >
              <th
                scope="row"
                className={`truncate py-0 text-left font-normal ${one.layer !== undefined && !locked ? "cursor-grab" : ""}`}
                title={one.label}
              >
                <span className="mr-2 inline-block w-7 text-tiny font-semibold text-ink2">
                  {one.place}
                </span>
                {one.label}
              </th>
              {doc.bands.map((b, c) => {
                const here = r === row && c === column;
                const shown = one.cell(b);
                const previous = doc.bands[c - 1];
                const same = previous !== undefined && one.cell(previous).text === shown.text;
                const open = here && editing !== null;
                return (
                  <td key={b.first} className={`p-0 text-right ${c === column ? "bg-soft" : ""}`}>
                    {open && one.options ? (
                      <SeekPick
                        label={`${one.label}, ${bandName(b)}`}
                        value={shown.raw}
                        options={one.options}
                        onPick={(value) => finish(value, 0)}
                        onClose={() => {
                          setEditing(null);
                          focusCell();
                        }}
                      />
                    ) : open ? (
                      <input
                        autoFocus
                        aria-label={`${one.label}, ${bandName(b)}`}
                        aria-invalid={editing.fault !== ""}
                        title={editing.fault}
                        value={editing.text}
                        onChange={(event) => setEditing({ text: event.target.value, fault: "" })}
                        onFocus={(event) => editing.text === shown.raw && event.target.select()}
                        onBlur={() => editing.fault === "" && finish(editing.text, 0)}
                        onKeyDown={(event) => {
                          if (event.key === "Enter" || event.key === "ArrowDown") {
                            event.preventDefault();
                            finish(editing.text, 1);
                          }
                          if (event.key === "ArrowUp") {
                            event.preventDefault();
                            finish(editing.text, -1);
                          }
                          if (event.key === "Escape") {
                            event.stopPropagation();
                            setEditing(null);
                            focusCell();
                          }
                        }}
                        className={`h-[26px] w-full border-2 bg-sheet px-2.5 text-right font-semibold ${editing.fault ? "border-stop" : "border-action"}`}
                      />
                    ) : (
                      <button
                        type="button"
                        data-here={here}
                        tabIndex={here ? 0 : -1}
                        aria-label={`${one.label}, ${bandName(b)}: ${same ? `as before, ${shown.text}` : shown.text}`}
                        title={shown.text}
                        onClick={() => {
                          setRow(() => r);
                          onColumn(c);
                          if (here) start(null);
                        }}
                        onDoubleClick={() => {
                          setRow(() => r);
                          onColumn(c);
                          start(null);
                        }}
                        className={`block h-[26px] w-full truncate px-3 text-right ${here ? "outline outline-2 -outline-offset-2 outline-action" : ""} ${same || shown.text === "none" ? "text-ink2" : ""}`}
                      >
                        {same ? "as before" : shown.text}
                      </button>
                    )}
                    {open && editing.fault ? (
                      <p role="alert" className="px-2 pb-1 text-left text-tiny text-stop">
                        Allowed: {editing.fault}
                      </p>
                    ) : null}
                  </td>
                );
              })}
            </tr>
          </Fragment>
        ))}
      </tbody>
      {foot}
    </table>
  );
}
