/** What was handed over today: its sheet, the tracking file of each channel, and taking it back within the hour. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { clockWords } from "../../domain/day";
import { many } from "../../domain/words";
import { BESIDE, Button } from "../../ui/parts";

export function Records({
  records,
  onUndo,
}: {
  records: Schemas["RecordOut"][];
  onUndo: (id: number) => void;
}) {
  const format = useFormat();
  if (records.length === 0) return null;
  return (
    <section className="mt-6">
      <h2 className="border-b border-line2 pb-1.5 text-lead">Handed over today</h2>
      <ul>
        {records.map((one) => (
          <li key={one.id} className="border-b border-line py-2">
            <p className="flex items-baseline justify-between gap-3">
              <span>
                <b>{clockWords(one.at_s)}</b> {one.name}
              </span>
              <span>
                {many(one.parcels, "parcel")}, {format.weight(one.weight_mg)}
              </span>
            </p>
            <p className="text-small text-ink2">
              by {one.by}
              {one.taken_by ? `, taken over by ${one.taken_by}` : ""}
            </p>
            <p className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
              <a
                className="text-action underline"
                href={`/api/send-off/sheet.pdf?id=${one.id}`}
                {...BESIDE}
              >
                Sheet
              </a>
              {one.channels.map((channel) => (
                <a
                  key={channel}
                  className="text-action underline"
                  href={`/api/send-off/${one.id}/tracking.csv?channel=${encodeURIComponent(channel)}`}
                >
                  Tracking file {channel}
                </a>
              ))}
              {one.undo ? (
                <Button kind="quiet" className="min-h-9 px-0" onClick={() => onUndo(one.id)}>
                  Undo
                </Button>
              ) : null}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}
