/** Beside a price list that is typed: its errors as the import says them, what is odd, and what it asks for a parcel. */
import { TypedField } from "../../ui/TypedField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { dayWords } from "../../domain/words";
import { readSize, readWeight } from "../../domain/units";
import { Mark } from "../../ui/parts";
import { QuoteLines } from "../../ui/QuoteLines";
import { type Unread } from "./listToFile";

export interface TriedParcel {
  size: string;
  weight: string;
  country: string;
  postcode: string;
  parcel: Schemas["CompareIn"] | null;
  set: (now: Partial<Pick<TriedParcel, "size" | "weight" | "country" | "postcode">>) => void;
}

export function useTried(country: string): TriedParcel {
  const { system } = useFormat();
  const [typed, setTyped] = useState({
    size: system === "imperial" ? "12 x 9 x 6 in" : "300 x 200 x 150 mm",
    weight: system === "imperial" ? "3 lb 0 oz" : "1.4 kg",
    country,
    postcode: "",
  });
  const sides = readSize(typed.size, system);
  const weight = readWeight(typed.weight, system);
  const parcel =
    sides && weight && /^[A-Za-z]{2,3}$/.test(typed.country.trim())
      ? {
          outer_um: sides,
          gross_weight_mg: weight,
          destination: { country: typed.country.trim().toUpperCase(), postcode: typed.postcode },
          origin: null,
          ship_on: null,
          over: "weight" as const,
          rigid: true,
          goods: [],
          cover: 0,
        }
      : null;
  return { ...typed, parcel, set: (now) => setTyped((was) => ({ ...was, ...now })) };
}

export function Checked({
  checked,
  unread,
  tried,
}: {
  checked: Schemas["CheckTariffOut"] | undefined;
  unread: readonly Unread[];
  tried: TriedParcel;
}) {
  const wrong = [
    ...unread.map((one) => ({ path: one.at, message: one.words })),
    ...(unread.length > 0 ? [] : (checked?.faults ?? [])),
  ];
  return (
    <>
      <h2 className="text-[21px] leading-tight">
        {wrong.length > 0
          ? `${wrong.length} ${wrong.length === 1 ? "thing is" : "things are"} missing or wrong`
          : "It can be saved"}
      </h2>
      <ul className="mt-2 max-h-56 overflow-y-auto" aria-live="polite">
        {wrong.slice(0, 12).map((one) => (
          <li key={`${one.path} ${one.message}`} className="border-t border-line py-1.5 text-small">
            <Mark kind="stop" /> <b>{one.path.replaceAll("_", " ")}</b> {one.message}
          </li>
        ))}
        {wrong.length === 0
          ? (checked?.notes ?? []).map((note) => (
              <li key={String(note)} className="border-t border-line py-1.5 text-small">
                <Mark kind="mind" /> {String(note)}
              </li>
            ))
          : null}
      </ul>
      <Tried tried={tried} checked={wrong.length === 0 ? checked : undefined} />
    </>
  );
}

function Tried({
  tried,
  checked,
}: {
  tried: TriedParcel;
  checked: Schemas["CheckTariffOut"] | undefined;
}) {
  const format = useFormat();
  return (
    <section className="mt-5" aria-label="Try it on a parcel">
      <h2 className="text-[18px]">Try it on a parcel</h2>
      <div className="mt-1 grid grid-cols-2 gap-2">
        <TypedField
          values={tried}
          name="size"
          set={tried.set}
          className="col-span-2"
          label="Outside"
        />
        <TypedField
          values={tried}
          name="weight"
          set={tried.set}
          className="col-span-2"
          label="Weight"
        />
        <TypedField values={tried} name="country" set={tried.set} label="To country" />
        <TypedField values={tried} name="postcode" set={tried.set} label="To postcode" />
      </div>
      {(checked?.quotes ?? []).map((quote) => (
        <div key={`${quote.service}-${quote.billed}`} className="mt-3">
          <p className="flex justify-between gap-3">
            <b>{quote.service_name}</b>
            <b>{format.money(quote.price)}</b>
          </p>
          <p className="text-small text-ink2">
            zone {quote.zone}, arrives {dayWords(quote.arrives_on)}
          </p>
          <QuoteLines lines={quote.lines} />
        </div>
      ))}
      {(checked?.refusals ?? []).map((refusal) => (
        <p key={refusal.service} className="mt-3 text-small text-ink2">
          {String(refusal.message)}
        </p>
      ))}
    </section>
  );
}
