/** The grid: rows are supplies in packing order, columns are order-size bands; arrows move, typing changes. */
import { Fragment, useState, type ReactNode } from "react";
import { Combo } from "../../ui/Combo";
import { withLayerMoved } from "./edits";
import { bandName, type Row } from "./rows";
import { useGrid, type GridHand, type GridProps } from "./useGrid";

export function Grid({ foot, ...given }: GridProps & { foot: ReactNode }) {
  const hand = useGrid(given);
  const { doc, rows, column, onColumn } = hand;
  return (
    <table
      id={hand.table}
      onPaste={hand.paste}
      onCopy={hand.copyOut}
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
        <Rows hand={hand} rows={rows} />
      </tbody>
      {foot}
    </table>
  );
}

/** Rows under the heads of their groups; layers are dragged to another place among themselves. */
function Rows({ hand, rows }: { hand: GridHand; rows: Row[] }) {
  const { doc, column, locked, onDoc } = hand;
  const [dragged, setDragged] = useState<number | null>(null);
  return rows.map((one, r) => {
    const { layer } = one;
    return (
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
          className={`border-b border-line ${dragged !== null && layer !== undefined && layer !== dragged ? "bg-hatch" : ""}`}
          draggable={!locked && layer !== undefined}
          onDragStart={() => setDragged(layer ?? null)}
          onDragEnd={() => setDragged(null)}
          onDragOver={(event) => {
            if (dragged !== null && layer !== undefined) event.preventDefault();
          }}
          onDrop={() => {
            if (dragged !== null && layer !== undefined) onDoc(withLayerMoved(doc, dragged, layer));
            setDragged(null);
          }}
        >
          <th
            scope="row"
            className={`truncate py-0 text-left font-normal ${layer !== undefined && !locked ? "cursor-grab" : ""}`}
            title={one.label}
          >
            <span className="mr-2 inline-block w-7 text-tiny font-semibold text-ink2">
              {one.place}
            </span>
            {one.label}
          </th>
          {doc.bands.map((b, c) => (
            <Cell key={b.first} hand={hand} one={one} r={r} c={c} />
          ))}
        </tr>
      </Fragment>
    );
  });
}

interface CellProps {
  hand: GridHand;
  one: Row;
  r: number;
  c: number;
}

function Cell({ hand, one, r, c }: CellProps) {
  const here = r === hand.row && c === hand.column;
  return (
    <td className={`p-0 text-right ${c === hand.column ? "bg-soft" : ""}`}>
      {here && hand.editing ? (
        <CellEditor hand={hand} one={one} c={c} />
      ) : (
        <CellButton hand={hand} one={one} r={r} c={c} />
      )}
    </td>
  );
}

function CellButton({ hand, one, r, c }: CellProps) {
  const { doc } = hand;
  const here = r === hand.row && c === hand.column;
  const [band, previous] = [doc.bands[c], doc.bands[c - 1]];
  if (!band) return null;
  const shown = one.cell(band);
  const same = previous !== undefined && one.cell(previous).text === shown.text;
  return (
    <button
      type="button"
      data-here={here}
      tabIndex={here ? 0 : -1}
      aria-label={`${one.label}, ${bandName(band)}: ${same ? `as before, ${shown.text}` : shown.text}`}
      title={shown.text}
      onClick={() => {
        hand.pick(r, c);
        if (here) hand.start(null);
      }}
      onDoubleClick={() => {
        hand.pick(r, c);
        hand.start(null);
      }}
      className={`block h-[26px] w-full truncate px-3 text-right ${here ? "outline outline-2 -outline-offset-2 outline-action" : ""} ${same || shown.text === "none" ? "text-ink2" : ""}`}
    >
      {same ? "as before" : shown.text}
    </button>
  );
}

function CellEditor({ hand, one, c }: Omit<CellProps, "r">) {
  const { editing, finish } = hand;
  const band = hand.doc.bands[c];
  if (!band || !editing) return null;
  const label = `${one.label}, ${bandName(band)}`;
  const { raw } = one.cell(band);
  const wrong = editing.fault ? (
    <p role="alert" className="px-2 pb-1 text-left text-tiny text-stop">
      Allowed: {editing.fault}
    </p>
  ) : null;
  if (one.options)
    return (
      <>
        <Combo
          label={label}
          value={raw}
          options={one.options}
          onPick={({ value }) => finish(value, 0)}
          onClose={hand.leave}
        />
        {wrong}
      </>
    );
  return (
    <>
      <input
        autoFocus
        aria-label={label}
        aria-invalid={editing.fault !== ""}
        title={editing.fault}
        value={editing.text}
        onChange={(event) => hand.type(event.target.value)}
        onFocus={(event) => editing.text === raw && event.target.select()}
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
            hand.leave();
          }
        }}
        className={`h-[26px] w-full border-2 bg-sheet px-2.5 text-right font-semibold ${editing.fault ? "border-stop" : "border-action"}`}
      />
      {wrong}
    </>
  );
}
