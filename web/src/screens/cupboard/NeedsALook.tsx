/** What needs attention: slots below their mark, and shelves that hold less than is promised. */
import { useFormat } from "../../app/session";
import { Mark } from "../../ui/parts";
import type { Schemas } from "../../api/client";
import { dayWords } from "../../domain/words";
import { needsAttention, type Covers, type Supply } from "./supply";

export function NeedsALook({
  rows,
  cover,
  onPick,
}: {
  rows: Supply[];
  cover: Covers;
  onPick: (supply: Supply) => void;
}) {
  const format = useFormat();
  const wanting = rows.filter((row) => needsAttention(row, cover));
  return (
    <>
      <h2 className="text-[21px]">Needs attention</h2>
      {wanting.length === 0 ? (
        <p className="mt-2 text-ink2">
          Every supply is above its reorder mark. Pick one to receive stock, count it, or read its
          ledger.
        </p>
      ) : null}
      <ul className="mt-3">
        {wanting.map((row) => (
          <li key={row.id} className="border-t border-line">
            <button
              type="button"
              onClick={() => onPick(row)}
              className="flex w-full gap-3 py-2.5 text-left hover:bg-ground"
            >
              <Mark kind={Number(row.free) < 0 || Number(row.on_hand) <= 0 ? "stop" : "mind"} />
              <span className="grow">
                <b>{row.name}</b>
                <span className="block text-ink2">
                  {words(row, cover.get(row.id), format.quantity)}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

function words(
  row: Supply,
  cover: Schemas["CoverOut"] | undefined,
  quantity: (value: string | number, unit: Supply["unit"]) => string,
): string {
  const held = quantity(row.on_hand, row.unit);
  if (Number(row.on_hand) < 0)
    return `The ledger says ${held}: more was used than was received. Count it.`;
  if (Number(row.on_hand) === 0)
    return `Nothing left${row.reorder_at ? `; the mark is at ${quantity(row.reorder_at, row.unit)}` : ""}.`;
  if (Number(row.free) < 0)
    return `${held} on hand, ${quantity(row.reserved, row.unit)} reserved: ${quantity(-Number(row.free), row.unit)} too few.`;
  if (cover?.late_arrival)
    return `${held} on hand; ${quantity(cover.arriving, row.unit)} were to arrive ${dayWords(cover.arrives_on ?? "")}.`;
  if (cover?.runs_out)
    return `${held} on hand, gone ${dayWords(cover.runs_out)}${cover.order_by ? `: order by ${dayWords(cover.order_by)}` : cover.offers === 0 ? "; nobody offers it" : ""}.`;
  return `${held} on hand, ${quantity(row.reserved, row.unit)} reserved; the mark is at ${quantity(row.reorder_at ?? 0, row.unit)}.`;
}
