/** The grid's logic without its looks: which cell the hand is in, what is being typed, what each key does. */
import { useEffect, useId, useState, type ClipboardEvent } from "react";
import { useActions } from "../../app/keys";
import { copiedAcross, pasted, withLayerMoved } from "./edits";
import type { Band, RecipeDoc, Row } from "./rows";

export interface GridProps {
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
}

export interface Editing {
  text: string;
  fault: string;
}

export interface GridHand extends GridProps {
  /** The id of the table, to find the cell the hand is in. */
  table: string;
  editing: Editing | null;
  type: (text: string) => void;
  /** Begin to change the cell: with what is there, or with what was typed over it. */
  start: (text: string | null) => void;
  /** Take what was typed, and go so many rows on. */
  finish: (text: string, by: number) => void;
  leave: () => void;
  pick: (row: number, column: number) => void;
  paste: (event: ClipboardEvent) => void;
  copyOut: (event: ClipboardEvent) => void;
}

const within = (n: number, length: number) => Math.min(Math.max(n, 0), length - 1);

export function useGrid(given: GridProps): GridHand {
  const { doc, rows, column, row, locked, onColumn, onRow, onBand, onDoc, onFaults } = given;
  const [editing, setEditing] = useState<Editing | null>(null);
  const table = useId();
  const present = rows[row];
  const band = doc.bands[column];
  const focusCell = () =>
    window.setTimeout(
      () => document.getElementById(table)?.querySelector<HTMLElement>("[data-here=true]")?.focus(),
      0,
    );
  const start = (text: string | null) => {
    if (locked || !present || !band) return;
    setEditing({ text: text ?? present.cell(band).raw, fault: "" });
  };
  const leave = () => {
    setEditing(null);
    focusCell();
  };
  const pick = (toRow: number, toColumn: number) => {
    onRow(() => within(toRow, rows.length));
    onColumn(within(toColumn, doc.bands.length));
  };
  const hand: GridHand = {
    ...given,
    table,
    editing,
    start,
    leave,
    pick,
    type: (text) => setEditing({ text, fault: "" }),
    finish: (text, by) => {
      if (!present || !band) return;
      const next = present.set(band, text);
      if (typeof next === "string") {
        setEditing({ text, fault: next });
        return;
      }
      if (JSON.stringify(next) !== JSON.stringify(band)) onBand(column, next);
      onRow((n) => within(n + by, rows.length));
      leave();
    },
    paste: (event) => {
      if (locked || editing) return;
      event.preventDefault();
      const result = pasted(doc, rows, { row, column }, event.clipboardData.getData("text/plain"));
      if (result.changed > 0) onDoc(result.doc);
      onFaults(result.faults, result.changed);
    },
    copyOut: (event) => {
      if (editing || !present || !band || window.getSelection()?.toString()) return;
      event.preventDefault();
      event.clipboardData.setData("text/plain", present.cell(band).raw);
    },
  };
  useGridKeys(hand, present, band, focusCell);
  useTypingOver(hand, present);
  return hand;
}

function useGridKeys(
  hand: GridHand,
  present: Row | undefined,
  band: Band | undefined,
  focusCell: () => void,
) {
  const { doc, rows, row, column, locked, onRow, onBand, onDoc, start, pick } = hand;
  const move = (dr: number, dc: number) => {
    pick(row + dr, column + dc);
    focusCell();
  };
  const moveLayer = (by: number) => {
    if (present?.layer === undefined) return;
    const to = present.layer + by;
    if (to < 0 || !doc.bands.some((one) => one.layers[to])) return;
    onDoc(withLayerMoved(doc, present.layer, to));
    const place = rows.findIndex((one) => one.key === `layer-${to}`);
    if (place < 0) return;
    onRow(() => place);
    focusCell();
  };
  const noLayer = locked || present?.layer === undefined;
  useActions([
    { key: "arrowdown", label: "Row below", run: () => move(1, 0) },
    { key: "arrowup", label: "Row above", run: () => move(-1, 0) },
    { key: "arrowright", label: "Next order size", run: () => move(0, 1) },
    { key: "arrowleft", label: "Order size before", run: () => move(0, -1) },
    { key: "enter", label: "Change the cell (or just type)", run: () => start(null), off: locked },
    {
      key: "c",
      label: "Copy the cell to the order sizes after it",
      run: () => present && onDoc(copiedAcross(doc, present, column)),
      off: locked,
    },
    {
      key: "delete",
      label: "Delete it from this order size",
      run: () => present?.clear && band && onBand(column, present.clear(band)),
      off: locked || !present?.clear,
    },
    {
      key: "[",
      label: "Layer before the one before it",
      run: () => moveLayer(-1),
      off: noLayer,
    },
    { key: "]", label: "Layer after the next one", run: () => moveLayer(1), off: noLayer },
  ]);
}

/** A number typed on a cell replaces what is there. */
function useTypingOver({ table, editing, locked, start }: GridHand, present: Row | undefined) {
  useEffect(() => {
    const type = (event: KeyboardEvent) => {
      const other = event.ctrlKey || event.metaKey || event.altKey;
      if (other || !/^[0-9.,]$/.test(event.key) || editing || present?.options || locked) return;
      if (!document.getElementById(table)?.contains(document.activeElement)) return;
      event.preventDefault();
      start(event.key);
    };
    window.addEventListener("keydown", type);
    return () => window.removeEventListener("keydown", type);
  });
}
