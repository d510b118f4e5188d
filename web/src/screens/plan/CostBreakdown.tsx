/** Cost: cost line by line, the weight ruler; every figure opens its sum. */
import { useState, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { parcelName, many } from "../../domain/words";
import { Ruler } from "../../drawings/Ruler";
import { Sheet } from "../../ui/overlays";
import { SumSheet } from "./SumSheet";
import { QuoteLines } from "../../ui/QuoteLines";

type Parcel = Schemas["ShownParcel"];

interface Props {
  way: Schemas["WayView"];
  shown: number;
  charged: string;
  supplies: Schemas["SupplyRef"][];
  near?: ReactNode;
}

/** One parcel's costs; with several, the order's total below. */
export function CostBreakdown({ way, shown, charged, supplies, near }: Props) {
  const format = useFormat();
  const [open, setOpen] = useState<string | null>(null);
  const [quotes, setQuotes] = useState(false);
  const parcel = way.parcels[shown] ?? way.parcels[0];
  if (!parcel) return null;
  const { candidate: c } = parcel;
  const several = way.parcels.length > 1;
  const names = Object.fromEntries(supplies.map((ref) => [ref.code, ref.name]));
  const rows: { label: string; value: string; sum: string }[] = [
    {
      label: `${parcelName(c, format.length)} and materials`,
      value: format.money(c.costs.materials),
      sum: "Materials",
    },
    {
      label: many(Number(c.minutes), "minute"),
      value: format.money(c.costs.labour),
      sum: "Labour",
    },
    {
      label: `${c.quote.service_name}, zone ${c.quote.zone}`,
      value: format.money(c.costs.postage),
      sum: "postage",
    },
    {
      label: `Expected damage cost (${(Number(c.damage_probability) * 100).toFixed(1)} %, estimate)`,
      value: format.money(c.costs.expected_loss),
      sum: "Expected damage cost",
    },
  ];
  const show = (sum: string) => (sum === "postage" ? setQuotes(true) : setOpen(sum));
  return (
    <section
      className="border-l border-line px-5 pb-3 pt-3 max-lg:col-span-2 max-lg:border-l-0 max-lg:border-t"
      aria-label="Cost"
    >
      <h2 className="text-[15px] text-ink2">
        {several ? `Cost of parcel ${shown + 1}: ${format.money(c.costs.total)}` : "Cost"}
      </h2>
      <ul className="mt-1">
        {rows.map((row) => (
          <li key={row.sum}>
            <button
              type="button"
              onClick={() => show(row.sum)}
              title="Show the sum"
              className="flex w-full justify-between gap-3 border-b border-line py-[5px] text-left hover:bg-ground"
            >
              <span className="underline decoration-line2 decoration-dotted underline-offset-4">
                {row.label}
              </span>
              <span>{row.value}</span>
            </button>
          </li>
        ))}
      </ul>
      <p className="mt-1.5 flex items-baseline justify-between border-t border-ink pt-1">
        <b className="font-head text-[25px]">{format.money(way.costs.total)}</b>
        <span className="text-right text-ink2">
          {several
            ? way.parcels.length === 2
              ? "both parcels, "
              : `all ${way.parcels.length} parcels, `
            : ""}
          buyer paid {format.money(charged)} for postage
        </span>
      </p>
      <Rulers parcel={parcel} />
      {near}
      <dl className="mt-2 text-small">
        {[
          {
            label: "Gross weight",
            value: `${format.weight(c.weight.gross_mg)} ± ${format.weight(c.weight.sigma_mg)}`,
            sum: "Gross weight",
          },
          {
            label: "Outside, with bulge",
            value: format.size(c.outer_bulged),
            sum: "Height outside",
          },
          ...(c.void
            ? [{ label: "Void to fill", value: format.volume(litres(c.void)), sum: "Void to fill" }]
            : []),
          ...(c.nested?.void
            ? [
                {
                  label: `Void in ${c.nested.code}`,
                  value: format.volume(litres(c.nested.void)),
                  sum: `Void in ${c.nested.code} to fill`,
                },
              ]
            : []),
        ].map((row) => (
          <div key={row.sum} className="flex justify-between py-[3px]">
            <dt className="text-ink2">{row.label}</dt>
            <dd>
              <button
                type="button"
                onClick={() => setOpen(row.sum)}
                title="Show the sum"
                className="underline decoration-line2 decoration-dotted underline-offset-4"
              >
                {row.value}
              </button>
            </dd>
          </div>
        ))}
      </dl>
      <SumSheet
        workings={parcel.workings}
        first={open}
        names={names}
        onClose={() => setOpen(null)}
      />
      <Sheet open={quotes} onOpenChange={setQuotes} title="What each service asks" wide>
        <Quotes parcel={parcel} />
      </Sheet>
    </section>
  );
}

const litres = (v: Schemas["VoidShare"]) =>
  [v.below_l, v.round_l, v.above_l, v.proud_l].reduce((sum, part) => sum + Number(part), 0);

const RULERS = ["weight", "length", "width", "height"] as const;

/** The parcel among the steps of its price: by weight, or along one of its sides. */
function Rulers({ parcel }: { parcel: Parcel }) {
  const [shown, setShown] = useState<(typeof RULERS)[number]>("weight");
  const side = parcel.candidate.sides.find((one) => one.side === shown);
  return (
    <div className="mt-3">
      {parcel.candidate.sides.length > 0 ? (
        <div className="mb-1 flex gap-4" role="group" aria-label="Price steps by">
          {RULERS.map((one) => (
            <button
              key={one}
              type="button"
              aria-pressed={one === shown}
              onClick={() => setShown(one)}
              className={`min-h-8 border-b-2 text-small ${one === shown ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
            >
              {one}
            </button>
          ))}
        </div>
      ) : null}
      {side ? <SideRuler ruler={side} /> : <WeightRuler parcel={parcel} />}
    </div>
  );
}

function SideRuler({ ruler }: { ruler: Schemas["SideRuler"] }) {
  const format = useFormat();
  const here = ruler.steps.findIndex((step) => ruler.value_um <= step.up_to_um);
  const mine = ruler.steps[here]?.price;
  const below = here > 0 ? ruler.steps[here - 1] : undefined;
  const words =
    below?.price && mine
      ? `${format.length(ruler.value_um - below.up_to_um)} less would save ${format.money(String(Number(mine) - Number(below.price)))}`
      : "no cheaper step near";
  return (
    <Ruler
      label={`Outside ${ruler.side}, with bulge`}
      words={words}
      value={ruler.value_um}
      shown={format.length(ruler.value_um)}
      low={ruler.value_um}
      high={ruler.value_um}
      from={ruler.from_um}
      steps={ruler.steps.map((one) => ({
        upTo: one.up_to_um,
        price: one.price === null ? "refused" : format.money(one.price),
      }))}
      tick={(um) => format.length(um)}
    />
  );
}

function WeightRuler({ parcel }: { parcel: Parcel }) {
  const format = useFormat();
  const { quote, step, weight } = parcel.candidate;
  const bySize = quote.volumetric_mg !== null && quote.volumetric_mg > quote.gross_mg;
  // Rounded up or by size, what is billed is not what the parcel weighs: the words say which of the two the mark is.
  const billed =
    format.weight(quote.billable_mg) === format.weight(weight.gross_mg)
      ? format.weight(weight.gross_mg)
      : `${format.weight(quote.billable_mg)} billed`;
  const over =
    step.over_by_mg !== null && step.saves !== null
      ? `${format.weight(step.over_by_mg)} less would save ${format.money(step.saves)}`
      : "at the cheapest step";
  return (
    <Ruler
      label={bySize ? "Charged by size" : "Charged by weight"}
      words={over}
      mind={step.near}
      value={quote.billable_mg}
      shown={billed}
      low={bySize ? quote.billable_mg : weight.gross_mg - 2 * weight.sigma_mg}
      high={bySize ? quote.billable_mg : weight.gross_mg + 2 * weight.sigma_mg}
      steps={quote.steps.map((one) => ({ upTo: one.up_to_mg, price: format.money(one.price) }))}
      tick={(mg) => format.weight(mg).replace(".000 kg", " kg")}
    />
  );
}

function Quotes({ parcel }: { parcel: Parcel }) {
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
            {quote.why ? `Billed ${quote.why}. ` : ""}Arrives {quote.arrives_on}, cover{" "}
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
