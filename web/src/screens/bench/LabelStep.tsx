/** The label: services at the real weight, one chosen, bought once. */
import { useFormat } from "../../app/session";
import { useActions } from "../../app/keys";
import { Mark } from "../../ui/parts";
import type { Bench } from "./useBench";

export function LabelStep({ bench, picked, onPick }: { bench: Bench; picked: string | undefined; onPick: (service: string) => void }) {
  const format = useFormat();
  const { parcel: p } = bench;
  const at = p.offers.findIndex((offer) => offer.service === picked);
  const move = (by: number) => { const next = p.offers[at + by]; if (next && !p.label) onPick(next.service); };
  useActions([
    { key: "arrowdown", label: "Next service", run: () => move(1) },
    { key: "arrowup", label: "Service before", run: () => move(-1) },
  ]);
  if (p.measured_mg === null) return <p className="mt-6 text-bench"><Mark kind="mind" /> Weigh the parcel first: the label is bought at its real weight. Press W.</p>;
  if (p.label?.state === "bought") return <p className="mt-6 text-bench"><Mark kind="done" /> {p.label.service_name}, {format.money(p.label.price)}: {p.label.tracking}</p>;
  return (
    <div className="mt-5 max-w-3xl text-bench">
      <p className="text-lead text-ink2">At {format.weight(p.measured_mg)}, {format.size(p.candidate.outer_bulged)}</p>
      {p.label?.state === "asked" ? <p className="mt-2 border-l-4 border-mind bg-mind-soft px-4 py-2"><Mark kind="mind" /> {p.label.service_name} was asked and has not answered. Ask again: it is the same label, paid once.</p> : null}
      <div role="radiogroup" aria-label="Service" className="mt-2">
        {p.offers.map((offer, index) => (
          <button key={offer.service} type="button" role="radio" aria-checked={offer.service === picked} disabled={p.label !== null} onClick={() => onPick(offer.service)} className={`flex min-h-14 w-full items-center gap-4 border-t border-line px-3 text-left ${offer.service === picked ? "bg-soft font-semibold" : ""}`}>
            <span aria-hidden="true" className={`size-5 shrink-0 rounded-full border-2 ${offer.service === picked ? "border-action bg-action" : "border-line2"}`} />
            <span className="grow">{offer.service_name}<span className="block text-lead font-normal text-ink2">arrives {offer.arrives_on}{index === 0 ? ", cheapest" : ""}</span></span>
            <span>{format.money(offer.price)}</span>
          </button>
        ))}
      </div>
      {p.refusals.map((refusal) => <p key={refusal.service} className="border-t border-line py-2 text-lead text-ink2">{refusal.message}</p>)}
    </div>
  );
}
