/** Beside the grid: the parcel of the order size the hand is in, what needs attention there, and the recipe's words. */
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { recipeSteps } from "../../api/recipes";
import { useSession } from "../../app/session";
import { many } from "../../domain/words";
import { Section } from "../../drawings/Section";
import { Mark } from "../../ui/parts";
import { bandName, type Band, type RecipeDoc } from "./rows";

export function BandAside({
  id,
  doc,
  band,
  figure,
  locked,
  onWords,
}: {
  id: number;
  doc: RecipeDoc;
  band: Band | undefined;
  figure: Schemas["BandFigures"] | undefined;
  locked: boolean;
  onWords: () => void;
}) {
  return (
    <aside className="border-r border-line px-6 py-3" aria-label="The parcel of this order size">
      <h2 className="text-[15px] text-ink2">
        Packed for {band ? bandName(band) : ""}, cut from the side
      </h2>
      {figure?.candidate ? (
        <Section
          parcel={figure.candidate}
          layers={figure.layers}
          caption={`${figure.candidate.name}, with ${figure.units} ${figure.pieces[0]?.name ?? ""}`}
        />
      ) : (
        <p className="mt-3 flex gap-2">
          <Mark kind="stop" />
          <span>{figure?.problem}</span>
        </p>
      )}
      <Minded figure={figure} />
      <Steps id={id} first={band?.first} />
      <Words doc={doc} onChange={onWords} locked={locked} />
    </aside>
  );
}

/** What needs attention in this band: price steps, weak board, policies it does not keep to. */
function Minded({ figure }: { figure: Schemas["BandFigures"] | undefined }) {
  const told = [...(figure?.warnings ?? []), ...(figure?.marked ?? [])];
  if (told.length === 0) return null;
  return (
    <ul className="mt-1 text-small">
      {told.slice(0, 4).map((words) => (
        <li key={words} className="flex gap-2 py-0.5">
          <Mark kind="mind" />
          <span>{words}</span>
        </li>
      ))}
    </ul>
  );
}

/** The price steps that past orders of this recipe just missed; those of the column the hand is in stand out. */
function Steps({ id, first }: { id: number; first: number | undefined }) {
  const { sees_costs } = useSession();
  const found = useQuery({ ...recipeSteps(id), enabled: sees_costs });
  if (!found.data || found.data.steps.length + found.data.recurring.length === 0) return null;
  return (
    <ul className="mt-1 text-small" aria-label="Price steps just missed">
      {found.data.recurring.slice(0, 2).map((one) => (
        <li key={one.words} className="flex gap-2">
          <Mark kind="mind" />
          <span>
            <b className="font-semibold">{one.words}</b>: {many(one.orders, "order")} would have
            saved {one.saves} in total.
          </span>
        </li>
      ))}
      {found.data.steps.slice(0, 3).map((step) => (
        <li
          key={`${step.first}-${step.measure}`}
          className={`flex gap-2 border-t border-line py-1 ${step.first === first ? "" : "text-ink2"}`}
        >
          <Mark kind={step.first === first ? "mind" : "ok"} />
          <span>{step.sentence}</span>
        </li>
      ))}
    </ul>
  );
}

function Words({
  doc,
  onChange,
  locked,
}: {
  doc: Schemas["RecipeFile"];
  onChange: () => void;
  locked: boolean;
}) {
  const parts: [string, readonly string[]][] = [
    [
      "Before packing",
      doc.ahead.map((one) => `${Number(one.hours_before)} h before: ${one.what}.`),
    ],
    ["Check goods", doc.goods_checks],
    ["Wrapping", doc.wrap_note ? [doc.wrap_note] : []],
    ["Test it", doc.proving_checks],
    ["Cautions", doc.cautions],
    ["For the buyer", doc.buyer_note ? [doc.buyer_note] : []],
    ["For the mix", doc.mix.map((one) => `${one.quantity} ${one.sku}`)],
    ["Trial", doc.trial_needed ? ["Not ready before one is passed."] : []],
  ];
  return (
    <>
      <dl className="mt-2 text-small">
        {parts
          .filter(([, lines]) => lines.length > 0)
          .map(([name, lines]) => (
            <div key={name} className="grid grid-cols-[104px_1fr] border-t border-line py-1">
              <dt className="text-ink2">{name}</dt>
              <dd>{lines.join(" ")}</dd>
            </div>
          ))}
      </dl>
      <div className="border-t border-line py-1 text-small">
        <button type="button" onClick={onChange} className="text-ink2 hover:text-ink">
          <span className="keycap" aria-hidden="true">
            E
          </span>{" "}
          {locked ? "read all of it" : "change these words"}
        </button>
      </div>
    </>
  );
}
