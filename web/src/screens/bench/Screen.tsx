/** Bench: what do my hands do next? One step, large; readable from a metre; every action by key. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { parcel } from "../../api/bench";
import { useActions } from "../../app/keys";
import { useScan } from "../../app/useScan";
import { useFormat } from "../../app/session";
import { cartonAt } from "../../drawings/cartons";
import { Section } from "../../drawings/Section";
import { parcelName } from "../../domain/words";
import { BESIDE, Button, LinkButton, Mark, Notice, ProblemNote, Waiting } from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import { printLabels } from "../../api/leaving";
import { printedWords } from "../send-off/printing";
import { useAwake } from "../../ui/useAwake";
import { ClosedParcel } from "./ClosedParcel";
import { ClosingNotice } from "./ClosingNotice";
import { Foot } from "./Foot";
import { HoldParcel } from "./HoldParcel";
import { JumpSheet, type Target } from "./JumpSheet";
import { LabelStep } from "./LabelStep";
import { OutClock } from "./OutClock";
import { StepHead } from "./StepHead";
import { Takes } from "./Takes";
import { lastLayerBefore, nextAction } from "./next";
import { scannedAtStep } from "./scanned";
import { useBench, type Bench } from "./useBench";
import { useScale } from "./useScale";
import { WeighStep } from "./WeighStep";

export function BenchScreen() {
  const id = Number(useParams().parcelId);
  const found = useQuery({ ...parcel(id), refetchOnWindowFocus: false });
  if (found.isPending) return <Waiting what="the parcel" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  return <AtTheBench key={id} data={found.data} />;
}

function AtTheBench({ data }: { data: Schemas["ParcelOut"] }) {
  const bench = useBench(data);
  if (data.state === "closed") return <ClosedParcel bench={bench} />;
  return <Packing bench={bench} />;
}

function Packing({ bench }: { bench: Bench }) {
  const { parcel: p, at, ticks } = bench;
  const navigate = useNavigate();
  const [holding, setHolding] = useState(false);
  const [jumping, setJumping] = useState<Target | null>(null);
  const [service, setService] = useState<string | null>(null);
  const step = p.steps[at];
  const weighing = step?.kind === "weigh";
  // Weighing again counts until another verdict comes in.
  const [againFor, setAgainFor] = useState<unknown>(null);
  const again = p.weight_check !== null && againFor === p.weight_check;
  const scale = useScale(p.id, weighing && (p.weight_check === null || again));
  const weighAgain = () => {
    setAgainFor(p.weight_check);
    scale.putOnAgain();
  };
  // The service the plan took, while it still takes the parcel at its real weight.
  const planned = p.offers.find((offer) => offer.service === p.candidate.quote.service)?.service;
  const picked = p.label?.service ?? service ?? planned ?? p.offers[0]?.service;
  const next = nextAction(bench, scale.state === "settled", picked, again);
  const jump = (to: Target) => (bench.openBefore(to).length > 0 ? setJumping(to) : bench.jump(to));
  useActions([
    { key: " ", label: next.words || "Next", run: () => !next.off && next.run() },
    { key: "backspace", label: "One step back", run: bench.back },
    { key: "w", label: "To the scale", run: () => jump("weigh") },
    { key: "l", label: "To the label", run: () => jump("label") },
    {
      key: "p",
      label: "Open the packing slip",
      run: () => window.open(slipPath(p.id), "_blank", "noreferrer"),
    },
    { key: "h", label: "Hold this order", run: () => setHolding(true) },
    {
      key: "escape",
      label: "Leave the bench; this step is kept",
      run: () => void navigate("/bench"),
    },
    ...Array.from({ length: Math.min(9, step?.tick_units ?? 0) }, (_, i) => ({
      key: String(i + 1),
      label: `Tick up to unit ${i + 1}`,
      run: () => bench.tick(i + 1),
    })),
  ]);
  useAwake();
  const say = useToast();
  useScan((code) => {
    const found = scannedAtStep(p, at, code);
    if (found.does === "tell") say(found.words, "stop");
    else if (!next.off) next.run();
  });
  if (!step) return null;
  const layerAt = step.layer ?? undefined;
  const doneLayers = layerAt ?? lastLayerBefore(p.steps, at);
  return (
    <div className="grid h-screen min-h-[640px] grid-rows-[auto_1fr_auto]">
      <Head bench={bench} onLeave={() => void navigate("/bench")} />
      <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_500px] max-lg:grid-cols-1 max-lg:grid-rows-[minmax(0,1fr)_auto]">
        <main className="min-h-0 overflow-auto px-11 py-6 max-lg:px-7" aria-live="polite">
          {bench.offline ? (
            <div className="mb-4 text-bench">
              <Notice kind="mind">
                No connection. Go on: what you tick is kept on this device and sent when it is back.
              </Notice>
            </div>
          ) : null}
          <TrialNotice trial={p.trial} />
          <StepHead step={step} />
          {step.kind === "close" ? <ClosingNotice parcelId={p.id} /> : null}
          <Takes parcel={p} step={step} />
          {step.tick_units > 0 ? (
            <Ticks count={step.tick_units} ticked={ticks} onTick={bench.tick} />
          ) : null}
          {weighing ? (
            <WeighStep bench={bench} scale={scale} again={again} onAgain={weighAgain} />
          ) : null}
          {step.kind === "label" ? (
            <LabelStep bench={bench} picked={picked} onPick={setService} />
          ) : null}
          {step.kind === "print" ? <Slip parcel={p} /> : null}
          {step.kind === "hand_over" ? (
            <>
              <LeftOpen bench={bench} />
              <Papers parcel={p} />
            </>
          ) : null}
          {bench.error ? (
            <div className="mt-5 text-bench">
              <ProblemNote error={bench.error} />
            </div>
          ) : null}
        </main>
        <aside
          className="overflow-auto border-l border-line bg-ground px-6 py-6 max-lg:border-l-0 max-lg:border-t max-lg:px-7 max-lg:py-4 max-lg:[@media(max-height:900px)]:hidden"
          aria-label="Where you are in the parcel"
        >
          <Where parcel={p} at={layerAt ?? -1} done={doneLayers} />
        </aside>
      </div>
      <Foot
        bench={bench}
        scale={scale}
        weighing={weighing}
        next={next}
        onHold={() => setHolding(true)}
        onJump={jump}
      />
      <JumpSheet bench={bench} to={jumping} onClose={() => setJumping(null)} />
      <HoldParcel parcel={p} open={holding} onOpenChange={setHolding} />
    </div>
  );
}

/** Nobody chose it: a trial packs every other parcel another way. */
function TrialNotice({ trial }: { trial: Schemas["ParcelOut"]["trial"] }) {
  if (!trial) return null;
  return (
    <p className="mb-3 border-l-4 border-action bg-soft px-4 py-2 text-bench">
      Trial: pack this one as <b>version {trial.version}</b>. {trial.question}
    </p>
  );
}

function Head({ bench, onLeave }: { bench: Bench; onLeave: () => void }) {
  const { parcel: p, at } = bench;
  const format = useFormat();
  return (
    <header className="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-line bg-sheet px-7 py-3">
      <button type="button" className="keycap min-h-11" onClick={onLeave}>
        Esc
      </button>
      <h1 className="text-[21px]">
        {p.order.number}, {p.order.buyer}
        {p.parts.length > 1 ? `, parcel ${p.part} of ${p.parts.length}` : ""}
      </h1>
      <p className="text-lead text-ink2">
        {parcelName(p.candidate, format.length)}, expected{" "}
        {format.weight(p.candidate.weight.gross_mg)}
      </p>
      <div
        className="ml-auto flex items-center gap-1.5 max-lg:order-last max-lg:ml-0 max-lg:w-full"
        aria-hidden="true"
      >
        {p.steps.map((_, index) => (
          <span
            key={index}
            className={`h-2 ${p.steps.length > 16 ? "w-2.5" : "w-5"} max-lg:w-2 ${bench.skipped.includes(index) ? "border border-stop bg-sheet" : index < at ? "bg-ink" : index === at ? "h-3.5 bg-action" : "bg-line"}`}
          />
        ))}
      </div>
      <p className="text-lead text-ink2 max-lg:ml-auto">
        step {at + 1} of {p.steps.length}
      </p>
      <OutClock parcel={p} at={at} />
    </header>
  );
}

/** The section of the carton in hand; before the first layer and after the last it is the first one or the last. */
function Where({
  parcel: p,
  at,
  done,
}: {
  parcel: Schemas["ParcelOut"];
  at: number;
  done: number;
}) {
  const format = useFormat();
  const carton = cartonAt<Schemas["Candidate"]>(
    p.candidate,
    p.layers,
    at >= 0 ? at : Math.max(0, done - 1),
  );
  const before = p.layers.slice(0, done).filter((layer) => carton.layers.includes(layer)).length;
  return (
    <Section
      parcel={carton.drawn}
      layers={carton.layers}
      at={at >= 0 ? carton.at : -1}
      done={before}
      caption={caption(carton.drawn, format.length)}
    />
  );
}

function caption(c: Schemas["Candidate"], length: (um: number) => string): string {
  const above = Math.max(0, c.inner.height_um - c.top_um);
  return c.kind === "mailer"
    ? `${c.name}`
    : `${parcelName(c, length)}, ${length(c.inner.length_um)} long inside. ${length(c.floor_um)} below, ${length(above)} on top.`;
}

function Ticks({
  count,
  ticked,
  onTick,
}: {
  count: number;
  ticked: number;
  onTick: (unit: number) => void;
}) {
  return (
    <div className="mt-6 flex flex-wrap gap-3" role="group" aria-label="Units done">
      {Array.from({ length: count }, (_, i) => {
        const done = i < ticked;
        const now = i === ticked;
        return (
          <button
            key={i}
            type="button"
            aria-pressed={done}
            aria-label={`Unit ${i + 1}${done ? ", done" : ""}`}
            onClick={() => onTick(i + 1)}
            className={`grid size-[66px] place-items-center rounded-part border-2 font-head text-[26px] font-semibold ${done ? "border-ink bg-ink text-sheet" : now ? "border-action bg-sheet text-action" : "border-line2 bg-sheet text-ink2"}`}
          >
            {done ? "✓" : i + 1}
          </button>
        );
      })}
    </div>
  );
}

function Papers({ parcel: p }: { parcel: Schemas["ParcelOut"] }) {
  const bought = p.label?.state === "bought";
  const say = useToast();
  const print = useMutation({
    ...printLabels(),
    onSuccess: (now) => say(printedWords(now, 1), now.waiting > 0 ? "stop" : "done"),
    onError: (error) => say(error.message, "stop"),
  });
  return (
    <div className="mt-6 flex flex-wrap gap-4 text-bench">
      {bought ? (
        <>
          <Button
            className="min-h-12"
            disabled={print.isPending}
            onClick={() => print.mutate([p.id])}
          >
            Print the label
          </Button>
          <LinkButton className="min-h-12" href={`/api/parcels/${p.id}/label.pdf`} {...BESIDE}>
            Label, {p.label?.tracking}
          </LinkButton>
        </>
      ) : (
        <p className="text-stop">No label yet: press L.</p>
      )}
    </div>
  );
}

const slipPath = (id: number) => `/api/parcels/${id}/slip.pdf`;

function Slip({ parcel: p }: { parcel: Schemas["ParcelOut"] }) {
  return (
    <p className="mt-6 text-bench">
      <LinkButton className="min-h-12" href={slipPath(p.id)} {...BESIDE}>
        Packing slip <span className="keycap">P</span>
      </LinkButton>
    </p>
  );
}

/** Steps that were gone past without doing them, before the parcel is closed. */
function LeftOpen({ bench }: { bench: Bench }) {
  if (bench.skipped.length === 0) return null;
  return (
    <div className="mt-5 max-w-3xl border-l-4 border-stop bg-stop-soft px-4 py-3 text-bench">
      <p>
        <Mark kind="stop" /> Not done yet:
      </p>
      <ul>
        {bench.skipped.map((index) => (
          <li key={index}>
            <button
              type="button"
              className="min-h-11 text-left text-action underline"
              onClick={() => bench.goTo(index)}
            >
              {bench.parcel.steps[index]?.title}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
