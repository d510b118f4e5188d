/** Cost: cost line by line, the weight ruler; every figure opens its sum. */
import { useState, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { percent } from "../../domain/figures";
import { useFormat, useSession } from "../../app/session";
import { parcelName, many } from "../../domain/words";
import { Sheet } from "../../ui/Sheet";
import { PriceRulers } from "./PriceRulers";
import { Quotes } from "./Quotes";
import { SumSheet } from "./SumSheet";

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
  const { sees_costs } = useSession();
  const [open, setOpen] = useState<string | null>(null);
  const [quotes, setQuotes] = useState(false);
  const parcel = way.parcels[shown] ?? way.parcels[0];
  if (!parcel) return null;
  const { candidate: c } = parcel;
  if (!sees_costs)
    return (
      <section
        className="border-l border-line px-5 py-3 max-lg:col-span-2 max-lg:border-l-0 max-lg:border-t"
        aria-label="Measures of the parcel"
      >
        <h2 className="text-[15px] text-ink2">Parcel</h2>
        <p className="mt-1">
          {parcelName(c, format.length)}, {c.quote.service_name}, zone {c.quote.zone}
        </p>
        <Measures candidate={c} onOpen={setOpen} />
        <SumSheet
          workings={parcel.workings}
          first={open}
          names={{}}
          onClose={() => setOpen(null)}
        />
      </section>
    );
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
      label: `Expected damage cost (${percent(Number(c.damage_probability), 1)}, ${c.arrivals ? `${c.arrivals.damaged} of ${c.arrivals.known} arrived damaged` : "estimate"})`,
      value: format.money(c.costs.expected_loss),
      sum: "Expected damage cost",
    },
  ];
  const show = (sum: string) => (sum === "postage" ? setQuotes(true) : setOpen(sum));
  return (
    <section
      className="border-l border-line px-5 pb-3 pt-3 max-lg:col-span-2 max-lg:grid max-lg:grid-cols-2 max-lg:gap-x-8 max-lg:border-l-0 max-lg:border-t"
      aria-label="Cost"
    >
      <div>
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
      </div>
      <div>
        <PriceRulers parcel={parcel} />
        {near}
        <Measures candidate={c} onOpen={setOpen} />
      </div>
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

function Measures({
  candidate: c,
  onOpen,
}: {
  candidate: Parcel["candidate"];
  onOpen: (sum: string) => void;
}) {
  const format = useFormat();
  return (
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
              onClick={() => onOpen(row.sum)}
              title="Show the sum"
              className="underline decoration-line2 decoration-dotted underline-offset-4"
            >
              {row.value}
            </button>
          </dd>
        </div>
      ))}
    </dl>
  );
}

const litres = (v: Schemas["VoidShare"]) =>
  [v.below_l, v.round_l, v.above_l, v.proud_l].reduce((sum, part) => sum + Number(part), 0);
