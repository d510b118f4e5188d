/** What comes of the order that is being typed: its parcel, weight, service and cost; or what is missing. */
import { useQuery } from "@tanstack/react-query";
import { useWatch } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { sketchOrder } from "../../api/orders";
import { useFormat } from "../../app/session";
import { dayWords } from "../../domain/words";
import type { FormOf } from "../../ui/FormField";
import { Mark, ProblemNote } from "../../ui/parts";
import { useRested } from "../../ui/useRested";
import { ORDER, type Typed } from "./typed";

export function Comes({ form, orderId }: { form: FormOf<Typed>; orderId: number | null }) {
  const typed = useRested(useWatch({ control: form.control }) as Typed, 500);
  const read = ORDER.safeParse(typed);
  const sketch = useQuery(
    sketchOrder(read.success ? { order: { ...read.data, number: "" }, order_id: orderId } : null),
  );
  return (
    <>
      <h2 className="text-[21px] leading-tight">What comes of it</h2>
      {read.success ? null : (
        <p className="mt-2 text-ink2">
          As soon as the place and one product are there, the parcel is planned here.
        </p>
      )}
      <ProblemNote error={sketch.error} />
      {read.success && sketch.data ? (
        <Found found={sketch.data} fresh={!sketch.isPlaceholderData} />
      ) : null}
    </>
  );
}

function Found({ found, fresh }: { found: Schemas["ChangeOut"]; fresh: boolean }) {
  const format = useFormat();
  const { before, after } = found;
  if (!after.planned)
    return (
      <div className={`mt-3 ${fresh ? "" : "opacity-50"}`}>
        <p>
          <Mark kind="mind" /> It would be held:
        </p>
        <ul className="mt-1 list-disc pl-6">
          {after.missing.map((words) => (
            <li key={String(words)}>{String(words)}</li>
          ))}
        </ul>
        {after.zone_known ? null : (
          <p className="mt-2">
            <Mark kind="mind" /> No price list has a zone for this place.
          </p>
        )}
      </div>
    );
  const rows: [string, string][] = [
    ["Parcel", after.containers.join(", ")],
    ["Weight", format.weight(after.gross_mg)],
    ["Service", after.service],
    ["Arrives", after.arrives_on ? dayWords(after.arrives_on) : ""],
    ["Postage", format.money(after.postage)],
    ["Parcel in all", format.money(after.total)],
  ];
  return (
    <dl className={`mt-3 ${fresh ? "" : "opacity-50"}`} aria-live="polite">
      {rows.map(([name, value]) => (
        <div key={name} className="flex justify-between gap-4 border-t border-line py-1.5">
          <dt className="text-ink2">{name}</dt>
          <dd className="text-right font-semibold">{value}</dd>
        </div>
      ))}
      {before?.planned ? (
        <div className="flex justify-between gap-4 border-t border-line py-1.5">
          <dt className="text-ink2">Difference</dt>
          <dd className="text-right font-semibold">
            {format.signed(Number(after.total) - Number(before.total))},{" "}
            {format.signedWeight(after.gross_mg - before.gross_mg)}
            <span className="block font-normal text-ink2">was {before.containers.join(", ")}</span>
          </dd>
        </div>
      ) : null}
    </dl>
  );
}
