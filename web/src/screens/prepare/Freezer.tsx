/** Packs in the freezer: since when, hard from when, how much room is left. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { freezePacks, freezer, unfreezePacks } from "../../api/care";
import { dayWords, many } from "../../domain/words";
import { Choose } from "../../ui/Choose";
import { Button, Field, ProblemNote } from "../../ui/parts";
import { useRequestKey } from "../../ui/useRequestKey";
import { useToast } from "../../ui/useToast";

export function Freezer() {
  const found = useQuery(freezer());
  const say = useToast();
  const [which, setWhich] = useState<number | null>(null);
  const [count, setCount] = useState("");
  const [key, renew] = useRequestKey();
  const freeze = useMutation({
    ...freezePacks(),
    onSuccess: () => {
      setCount("");
      renew();
    },
  });
  const out = useMutation({ ...unfreezePacks(), onError: (error) => say(error.message, "stop") });
  if (!found.data || found.data.packs.length === 0) return null;
  const { lots, packs, used_l, room_l } = found.data;
  const pack = packs.find((one) => one.supply_id === which) ?? packs[0];
  const share = Math.min(1, Number(used_l) / Math.max(0.001, Number(room_l)));
  return (
    <section aria-label="Freezer" className="max-lg:mt-6">
      <h2 className="flex items-baseline justify-between border-b border-line2 pb-1.5 text-lead">
        In the freezer
        <span className="font-text text-small font-normal text-ink2">
          {Number(used_l).toFixed(1)} of {Number(room_l)} l
        </span>
      </h2>
      <div className="mt-2 h-2 border border-line2" aria-hidden="true">
        <div className="h-full bg-ink2" style={{ width: `${share * 100}%` }} />
      </div>
      <ul className="mt-1">
        {lots.map((lot) => (
          <li key={lot.id} className="flex items-start gap-3 border-b border-line py-1.5">
            <b className="w-9 shrink-0 text-right">{lot.left}</b>
            <span className="grow">
              {lot.name}
              <span className="block text-small text-ink2">
                since {moment(lot.since)}, {lot.by}; hard from {moment(lot.hard_at)}
              </span>
            </span>
            <Button kind="quiet" disabled={out.isPending} onClick={() => out.mutate(lot.id)}>
              Take out
            </Button>
          </li>
        ))}
      </ul>
      {lots.length === 0 ? <p className="py-1.5 text-ink2">No packs are frozen.</p> : null}
      <form
        className="mt-3 flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (pack)
            freeze.mutate({ supply_id: pack.supply_id, quantity: Number(count), request_key: key });
        }}
      >
        <div className="grow">
          <Choose
            label="Put in now"
            value={String(pack?.supply_id)}
            options={packs.map((one) => ({
              value: String(one.supply_id),
              text: `${one.name}, ${many(Number(one.hours), "hour")}`,
            }))}
            onPick={(id) => setWhich(Number(id))}
          />
        </div>
        <Field
          label="How many"
          className="w-24"
          type="number"
          min={1}
          max={1000}
          required
          value={count}
          onChange={(event) => setCount(event.target.value)}
        />
        <Button type="submit" disabled={freeze.isPending}>
          Freeze
        </Button>
      </form>
      <ProblemNote error={freeze.error} />
    </section>
  );
}

const moment = (text: string) => `${dayWords(text.slice(0, 10))} ${text.slice(11, 16)}`;
