/** What each service asks for this parcel, line by line, and why others refuse it. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { dayWords } from "../../domain/words";
import { QuoteLines } from "../../ui/QuoteLines";

type Parcel = Schemas["ShownParcel"];

export function Quotes({ parcel }: { parcel: Parcel }) {
  const format = useFormat();
  const { quotes, refusals } = parcel.candidate;
  return (
    <div className="flex flex-col gap-5">
      {quotes.map((quote) => (
        <section key={quote.service}>
          <h3 className="flex justify-between text-lead">
            <span>
              {quote.service_name},{" "}
              {quote.format_name ? `${quote.format_name.toLowerCase()}, ` : ""}zone {quote.zone}
              {quote.service === parcel.candidate.quote.service ? (
                <span className="ml-2 text-small text-ink2">taken</span>
              ) : null}
            </span>
            <span>{format.money(quote.price)}</span>
          </h3>
          <QuoteLines lines={quote.lines} />
          <p className="mt-1 text-small text-ink2">
            {quote.volumetric_mg !== null
              ? `Volumetric ${format.weight(quote.volumetric_mg)}, gross ${format.weight(quote.gross_mg)}: billed at ${format.weight(quote.billable_mg)}. `
              : ""}
            {quote.why ? `Billed ${quote.why}. ` : ""}Arrives {dayWords(quote.arrives_on)}, cover{" "}
            {format.money(Number(quote.cover) || quote.cover_included)}, cut-off{" "}
            {quote.cut_off.slice(0, 5)}. Tariff {quote.tariff_version}.
            {quote.markings.length > 0 ? ` Must stand on it: ${quote.markings.join(", ")}.` : ""}{" "}
            {quote.notes.join(" ")}
          </p>
        </section>
      ))}
      {refusals.map((refusal) => (
        <p key={refusal.service} className="text-ink2">
          {refusal.message}
        </p>
      ))}
    </div>
  );
}
