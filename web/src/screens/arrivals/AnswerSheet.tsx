/** How a parcel arrived, in full: the place pointed at on its outline, which goods, the buyer's words, photos. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answerArrival } from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import {
  OUTCOME_WORDS,
  PLACES,
  PLACE_WORDS,
  placeWords,
  type Outcome,
  type Place,
} from "../../domain/arriving";
import { dayWords } from "../../domain/words";
import { Outline } from "../../drawings/Outline";
import { Choose } from "../../ui/Choose";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import { Field } from "../../ui/parts";
import { Photos } from "./Photos";
import { answerOf, goodsWords, sent, sides, type Answer, type Arrival } from "./shown";

type Harm = Schemas["HarmIn"];

const OUTCOMES: Outcome[] = ["broken", "marked", "spoiled", "late", "lost", "whole", "unknown"];
const GAVE = [
  { value: "", text: "Nothing" },
  { value: "replacement", text: "A replacement" },
  { value: "refund", text: "The money" },
  { value: "part_refund", text: "Part of the money" },
];

export function AnswerSheet({ arrival, onClose }: { arrival: Arrival; onClose: () => void }) {
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title={`${arrival.number}: how did it arrive?`}
      description={`${arrival.buyer}, ${goodsWords(arrival)}. Left ${dayWords(arrival.sent_on)} with ${arrival.service_name}.`}
      wide
    >
      <AnswerForm arrival={arrival} onClose={onClose} />
    </Sheet>
  );
}

interface Part {
  arrival: Arrival;
  typed: Answer;
  change: (part: Partial<Answer>) => void;
}

function AnswerForm({ arrival, onClose }: { arrival: Arrival; onClose: () => void }) {
  const say = useToast();
  const send = useMutation(answerArrival());
  const [typed, setTyped] = useState<Answer>(() => {
    const now = answerOf(arrival);
    return now.outcome === "unknown" ? { ...now, outcome: "broken" } : now;
  });
  const part = {
    arrival,
    typed,
    change: (now: Partial<Answer>) => setTyped((before) => ({ ...before, ...now })),
  };
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        send.mutate(
          { id: arrival.id, body: sent(typed) },
          {
            onSuccess: (now) => {
              say(`${now.number}: ${OUTCOME_WORDS[now.outcome]}.`);
              onClose();
            },
          },
        );
      }}
    >
      <div className="grid grid-cols-[320px_minmax(0,1fr)] gap-6 max-md:grid-cols-1">
        <Pointing {...part} />
        <div className="flex flex-col gap-2.5">
          <Choose
            label="It arrived"
            value={typed.outcome}
            options={OUTCOMES.map((one) => ({ value: one, text: OUTCOME_WORDS[one] }))}
            onPick={(outcome) => part.change({ outcome: outcome as Outcome })}
          />
          <Which {...part} />
          <Given {...part} />
          <Field
            label="Note"
            maxLength={500}
            value={typed.note}
            onChange={(event) => part.change({ note: event.target.value })}
          />
          <label className="text-small text-ink2">
            The buyer&apos;s message, pasted as it is
            <textarea
              className="mt-1 block min-h-14 w-full rounded-part border border-line2 bg-sheet p-2.5 text-base text-ink"
              maxLength={4000}
              value={typed.message}
              onChange={(event) => part.change({ message: event.target.value })}
            />
          </label>
          <Photos arrival={arrival} />
        </div>
      </div>
      <SheetFoot error={send.error} action="Save" off={send.isPending} onCancel={onClose} />
    </form>
  );
}

const pointed = (outcome: Outcome) => outcome === "broken" || outcome === "marked";

/** What is told of the one thing that was hurt; a change of it is a change of the answer. */
function harmOf({ typed, change }: Part) {
  const none: Harm = { kind: "broken", place: null, spot: "", sku: "", units: 1 };
  const harm = typed.harms[0] ?? none;
  return [harm, (part: Partial<Harm>) => change({ harms: [{ ...harm, ...part }] })] as const;
}

function Pointing(part: Part) {
  const [harm, set] = harmOf(part);
  if (!pointed(part.typed.outcome))
    return (
      <div>
        <p className="py-8 text-ink2">Nothing to point at.</p>
        <Goods {...part} />
      </div>
    );
  return (
    <div>
      <Outline
        outer={sides(part.arrival.outer_um)}
        broken={[]}
        picked={{ place: harm.place ?? null, spot: harm.spot }}
        onPoint={(place, spot) => set({ place, spot })}
      />
      <p className="mb-3 text-center" role="status">
        {placeWords(harm.place ?? null, harm.spot)}
      </p>
      <Goods {...part} />
    </div>
  );
}

function Which(part: Part) {
  const [harm, set] = harmOf(part);
  if (!pointed(part.typed.outcome)) return null;
  return <Places picked={harm.place ?? null} onPick={(place) => set({ place, spot: "" })} />;
}

function Goods(part: Part) {
  const [harm, set] = harmOf(part);
  if (!pointed(part.typed.outcome) && part.typed.outcome !== "spoiled") return null;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_96px] gap-3">
      <Choose
        label="Which goods"
        value={harm.sku}
        options={[
          { value: "", text: "Not said" },
          ...part.arrival.goods.map((one) => ({ value: one.sku, text: one.name })),
        ]}
        onPick={(sku) => set({ sku })}
      />
      <Field
        label="How many"
        inputMode="numeric"
        value={String(harm.units || "")}
        onChange={(event) => set({ units: Number(event.target.value) || 0 })}
      />
    </div>
  );
}

function Given({ typed, change }: Part) {
  const money = typed.gave_back === "refund" || typed.gave_back === "part_refund";
  return (
    <div className="grid grid-cols-2 gap-3">
      <Choose
        label="What you gave back"
        value={typed.gave_back}
        options={GAVE}
        onPick={(given) => change({ gave_back: given as Answer["gave_back"] })}
      />
      {money ? (
        <Field
          label="How much"
          inputMode="decimal"
          value={String(typed.gave_amount)}
          onChange={(event) => change({ gave_amount: event.target.value })}
        />
      ) : null}
    </div>
  );
}

/** The places by name: what is turned away on the drawing, and what is inside, is reached here. */
function Places({ picked, onPick }: { picked: Place | null; onPick: (place: Place) => void }) {
  return (
    <fieldset>
      <legend className="text-small text-ink2">Where, on the drawing or here</legend>
      <div className="mt-1 flex flex-wrap gap-1.5">
        {PLACES.map((place) => (
          <button
            key={place}
            type="button"
            aria-pressed={place === picked}
            className={`min-h-9 rounded-part border px-2.5 text-small ${place === picked ? "border-action bg-soft font-semibold text-action" : "border-line2"}`}
            onClick={() => onPick(place)}
          >
            {PLACE_WORDS[place]}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
