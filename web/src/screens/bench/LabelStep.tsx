/** The label: services at the real weight, one chosen, bought once. */
import { useFormat } from "../../app/session";
import { useActions } from "../../app/keys";
import { dayWords } from "../../domain/words";
import { ProblemError } from "../../api/client";
import { Button, Mark, Notice } from "../../ui/parts";
import { RecordAnswer } from "./RecordAnswer";
import type { Bench } from "./useBench";

export function LabelStep({
  bench,
  picked,
  onPick,
}: {
  bench: Bench;
  picked: string | undefined;
  onPick: (service: string) => void;
}) {
  const format = useFormat();
  const { parcel: p } = bench;
  const at = p.offers.findIndex((offer) => offer.service === picked);
  const dearer =
    bench.error instanceof ProblemError && bench.error.problem.code === "price_changed"
      ? String(bench.error.problem.facts.asked ?? "")
      : "";
  const move = (by: number) => {
    const next = p.offers[at + by];
    if (next && !p.label) onPick(next.service);
  };
  useActions([
    { key: "arrowdown", label: "Next service", run: () => move(1) },
    { key: "arrowup", label: "Service before", run: () => move(-1) },
  ]);
  if (p.measured_mg === null)
    return (
      <p className="mt-6 text-bench">
        <Mark kind="mind" /> Weigh the parcel first: the label is bought at its real weight. Press
        W.
      </p>
    );
  if (p.label?.state === "voiding") return <BeingCancelled bench={bench} label={p.label} />;
  if (p.label?.state === "bought") return <Bought bench={bench} label={p.label} />;
  return (
    <div className="mt-5 max-w-3xl text-bench">
      {dearer && picked ? (
        <Notice
          kind="mind"
          action={
            <Button
              className="min-h-11"
              disabled={bench.busy}
              onClick={() => bench.buy(picked, dearer)}
            >
              Agree and buy
            </Button>
          }
        >
          The carrier asks {format.money(dearer)} now. Agree, or choose another service.
        </Notice>
      ) : null}
      <p className="text-lead text-ink2">
        At {format.weight(p.measured_mg)}, {format.size(p.candidate.outer_bulged)}
      </p>
      {p.label?.state === "asked" ? (
        <p className="mt-2 border-l-4 border-mind bg-mind-soft px-4 py-2">
          <Mark kind="mind" /> {p.label.service_name} was asked and has not answered. Ask again: it
          is the same label, paid once.
        </p>
      ) : null}
      {p.label?.state === "asked" && bench.error ? (
        <RecordAnswer bench={bench} state="asked" />
      ) : null}
      <Offers parcel={p} picked={picked} onPick={onPick} />
      {p.refusals.map((refusal) => (
        <p key={refusal.service} className="border-t border-line py-2 text-lead text-ink2">
          {refusal.message}
        </p>
      ))}
    </div>
  );
}

interface OfLabel {
  bench: Bench;
  label: NonNullable<Bench["parcel"]["label"]>;
}

function BeingCancelled({ bench, label }: OfLabel) {
  return (
    <div className="mt-6 text-bench">
      <p>
        <Mark kind="mind" /> {label.service_name}, {label.tracking}: it was to be cancelled and the
        carrier has not answered. Ask again; it is never done twice.
      </p>
      <Button kind="next" className="mt-3 min-h-11" disabled={bench.busy} onClick={bench.giveBack}>
        Cancel label: ask again
      </Button>
      {bench.error ? <RecordAnswer bench={bench} state="voiding" /> : null}
    </div>
  );
}

function Bought({ bench, label }: OfLabel) {
  const format = useFormat();
  return (
    <div className="mt-6 text-bench">
      <p>
        <Mark kind="done" /> {label.service_name}, {format.money(label.price)}: {label.tracking}
      </p>
      {label.recorded ? <p className="text-lead text-ink2">{label.recorded}</p> : null}
      <OtherWeight bench={bench} label={label} />
      <Surplus parcel={bench.parcel} />
      <p className="mt-3 text-lead text-ink2">
        Wrong service or weight? Cancel the label and buy another; the price is refunded.
      </p>
      <Button className="mt-2 min-h-11" disabled={bench.busy} onClick={bench.giveBack}>
        Cancel label
      </Button>
    </div>
  );
}

/** The label was bought at another weight: agree to what the carrier will charge, or cancel it and buy again. */
function OtherWeight({ bench, label }: OfLabel) {
  const format = useFormat();
  const { charge } = bench.parcel;
  if (!charge) return null;
  const { asked } = charge;
  if (asked !== null && asked === bench.agreed)
    return (
      <p className="mt-3 text-lead text-ink2">
        Agreed: {format.money(asked)} for {format.weight(charge.now_mg)}.
      </p>
    );
  return (
    <div className="mt-4">
      <Notice
        kind="mind"
        action={
          asked === null ? undefined : (
            <Button className="min-h-11" disabled={bench.busy} onClick={() => bench.agree(asked)}>
              Agree
            </Button>
          )
        }
      >
        <b>
          The label was bought for {format.weight(charge.bought_mg)}; the parcel weighs{" "}
          {format.weight(charge.now_mg)}.
        </b>{" "}
        {asked === null
          ? `${label.service_name} does not take it at that weight. Cancel the label and buy another.`
          : `By its list ${label.service_name} asks ${format.money(asked)} for that; ${format.money(charge.listed)} was paid for. Cancel the label and buy it again, or agree to that charge.`}
      </Notice>
    </div>
  );
}

/** Two calls crossed and both sold: one is used, the worker gives the other back. */
function Surplus({ parcel }: { parcel: Bench["parcel"] }) {
  if (parcel.surplus_labels.length === 0) return null;
  return (
    <p className="mt-3 border-l-4 border-mind bg-mind-soft px-4 py-2 text-lead">
      <Mark kind="mind" /> Sold besides: {parcel.surplus_labels.join(", ")}. Do not use it; it is
      cancelled in the background.
    </p>
  );
}

function Offers({
  parcel: p,
  picked,
  onPick,
}: {
  parcel: Bench["parcel"];
  picked: string | undefined;
  onPick: (service: string) => void;
}) {
  const format = useFormat();
  return (
    <div role="radiogroup" aria-label="Service" className="mt-2">
      {p.offers.map((offer, index) => (
        <button
          key={offer.service}
          type="button"
          role="radio"
          aria-checked={offer.service === picked}
          disabled={p.label !== null}
          onClick={() => onPick(offer.service)}
          className={`flex min-h-14 w-full items-center gap-4 border-t border-line px-3 text-left ${offer.service === picked ? "bg-soft font-semibold" : ""}`}
        >
          <span
            aria-hidden="true"
            className={`size-5 shrink-0 rounded-full border-2 ${offer.service === picked ? "border-action bg-action" : "border-line2"}`}
          />
          <span className="grow">
            {offer.service_name}
            <span className="block text-lead font-normal text-ink2">
              arrives {dayWords(offer.arrives_on)}
              {index === 0 ? ", cheapest" : ""}
              {offer.service === p.candidate.quote.service ? ", as planned" : ""}
              {offer.markings.length > 0 ? `; mark it ${offer.markings.join(", ")}` : ""}
            </span>
          </span>
          <span>{format.money(offer.price)}</span>
        </button>
      ))}
    </div>
  );
}
