/** A wave at the bench: like with like first, "wrap 12 jars", then each parcel's own steps; or one by one as before. */
import { StepHead } from "./StepHead";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { doneTogether, together } from "../../api/bench";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useScan } from "../../app/useScan";
import { many } from "../../domain/words";
import { Button, ProblemNote, Waiting } from "../../ui/parts";
import { NoWave } from "../../ui/NoWave";
import { useAwake } from "../../ui/useAwake";
import { useToast } from "../../ui/useToast";
import { keepWave } from "./wave";

export function WaveScreen() {
  const ids = useSearchParams()[0].get("parcels") ?? "";
  const query = useQuery(together(ids));
  if (ids === "") return <NoWave />;
  if (query.isPending) return <Waiting what="the wave" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  return <Wave key={ids} wave={query.data} />;
}

function Wave({ wave }: { wave: Schemas["TogetherOut"] }) {
  const navigate = useNavigate();
  const say = useToast();
  const [at, setAt] = useState(0);
  useAwake();
  const step = wave.steps[at];
  const ids = wave.parcels.map((one) => one.id);
  const open = (id: number | undefined) => {
    keepWave(ids);
    void navigate(id ? `/bench/${id}` : "/bench", { replace: true });
  };
  const done = useMutation({
    ...doneTogether(),
    onSuccess: ({ parcel_ids }) => open(parcel_ids[0]),
    onError: (error) => say(error.message, "stop"),
  });
  const last = at >= wave.steps.length - 1;
  const next = () => (last ? done.mutate(ids) : setAt(at + 1));
  const words = last ? `All done: on to ${wave.parcels[0]?.number ?? "the bench"}` : "Done, next";
  useActions([
    { key: " ", label: words, run: next, off: done.isPending },
    { key: "backspace", label: "One step back", run: () => setAt(Math.max(0, at - 1)) },
    { key: "1", label: "One by one instead", run: () => open(ids[0]) },
    { key: "escape", label: "Leave the wave", run: () => void navigate("/bench") },
  ]);
  useScan((code) => {
    const taken = step?.takes.some((take) => take.code.toLowerCase() === code.toLowerCase());
    if (!taken) say(`${code} is not in this step.`, "stop");
    else if (!done.isPending) next();
  });
  return (
    <div className="grid h-screen min-h-[640px] grid-rows-[auto_1fr_auto]">
      <header className="flex items-center justify-between gap-6 border-b border-line bg-sheet px-11 py-4 text-lead max-lg:px-7">
        <b>{many(wave.parcels.length, "parcel")} together</b>
        <span className="min-w-0 grow truncate text-ink2">
          {wave.parcels.map((one, index) => `${index + 1}: ${one.number}`).join(", ")}
        </span>
        <span className="whitespace-nowrap">
          {wave.steps.length === 0 ? "" : `step ${at + 1} of ${wave.steps.length}`}
        </span>
      </header>
      <main className="min-h-0 overflow-auto px-11 py-6 max-lg:px-7" aria-live="polite">
        {step ? (
          <SharedStep step={step} wave={wave} />
        ) : (
          <h2 className="text-big">Nothing is left to do together</h2>
        )}
      </main>
      <footer className="flex flex-wrap items-center gap-4 bg-foot px-11 py-4 text-on-foot max-lg:px-7">
        <Button
          kind="next"
          hotkey="Space"
          className="min-h-14 text-bench"
          disabled={done.isPending}
          onClick={next}
        >
          {words}
        </Button>
        <button
          type="button"
          className="min-h-11 px-3 text-on-foot2"
          disabled={at === 0}
          onClick={() => setAt(Math.max(0, at - 1))}
        >
          <span className="keycap">Backspace</span> back
        </button>
        <span className="grow" />
        <button type="button" className="min-h-11 px-3 text-on-foot2" onClick={() => open(ids[0])}>
          <span className="keycap">1</span> one by one instead
        </button>
      </footer>
    </div>
  );
}

function SharedStep({
  step,
  wave,
}: {
  step: Schemas["TogetherStep"];
  wave: Schemas["TogetherOut"];
}) {
  const spots = new Map(wave.parcels.map((one, index) => [one.id, index + 1]));
  const per = step.per.filter((one) => one.units > 0);
  return (
    <>
      <StepHead step={step} />
      {step.takes.length > 0 ? (
        <ul className="mt-5 max-w-3xl text-bench" aria-label="Take">
          {step.takes.map((take, index) => (
            <li
              key={take.code + index}
              className="flex items-baseline gap-4 border-t border-line py-2"
            >
              <span className="grid h-9 min-w-12 shrink-0 place-items-center self-center rounded-part border border-ink px-1.5 font-semibold">
                {wave.places[take.code] || "?"}
              </span>
              <span className="grow">
                {take.name}
                {take.role === "wrap" ? (
                  <span className="block text-lead text-ink2">{take.detail}</span>
                ) : null}
              </span>
              <span className="shrink-0 font-semibold">{take.amount}</span>
            </li>
          ))}
        </ul>
      ) : null}
      {per.length > 1 ? (
        <p className="mt-5 text-bench text-ink2">
          {per.map((one) => `${one.units} for ${spots.get(one.parcel_id) ?? "?"}`).join(", ")}
        </p>
      ) : null}
      {step.kind === "print" ? (
        <p className="mt-6 flex flex-wrap gap-3">
          {step.per.map((one) => (
            <a
              key={one.parcel_id}
              className="inline-flex min-h-12 items-center rounded-part border border-line2 bg-sheet px-4 text-bench font-semibold text-action"
              href={`/api/parcels/${one.parcel_id}/slip.pdf`}
              target="_blank"
              rel="noreferrer"
            >
              Slip {wave.parcels.find((each) => each.id === one.parcel_id)?.number}
            </a>
          ))}
        </p>
      ) : null}
    </>
  );
}
