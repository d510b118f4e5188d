/** The parcel among the steps of its price: by weight, or along one of its sides. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { Ruler } from "../../drawings/Ruler";

type Parcel = Schemas["ShownParcel"];

const RULERS = ["weight", "length", "width", "height"] as const;

export function PriceRulers({ parcel }: { parcel: Parcel }) {
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
