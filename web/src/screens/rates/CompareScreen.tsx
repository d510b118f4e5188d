/** Rates: what does a parcel of this size cost, and where are the steps? */
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useRef } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { compareRates } from "../../api/prices";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { Stairs } from "../../drawings/Stairs";
import { Field, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { asked, heavier, OVERS, type Over, type Question } from "./question";
import { RatesTabs } from "./RatesTabs";
import { QuoteLines } from "../../ui/QuoteLines";

/** A parcel to begin with, in each system's own figures. */
const EXAMPLE = {
  metric: { size: "300 x 220 x 160", weight: "2.84 kg", step_mg: 100_000 },
  imperial: { size: "12 x 8 1/2 x 6 1/4", weight: "6 lb 4 oz", step_mg: 113_398 },
};

const FIRST: Question = {
  size: "",
  weight: "",
  to: "",
  from: "",
  on: "",
  worth: "",
  over: "weight",
};

export function CompareScreen() {
  const who = useSession();
  const format = useFormat();
  const [params, setParams] = useSearchParams();
  const example = EXAMPLE[format.system];
  const q: Question = {
    ...FIRST,
    size: example.size,
    weight: example.weight,
    to: `${who.country} ${who.postcode}`,
    ...Object.fromEntries([...params].filter(([name]) => name in FIRST)),
  };
  // Two keys may come before the address has followed the first: the second goes on from what the first asked for.
  const latest = useRef(q);
  useEffect(() => {
    latest.current = q;
  });
  const set = (change: Partial<Question>) => {
    latest.current = { ...latest.current, ...change };
    setParams({ ...latest.current }, { replace: true });
  };
  const read = asked(useDeferredValue(q), format.system, who.country);
  const found = useQuery(compareRates("body" in read ? read.body : null));
  const turn = (by: number) =>
    set({ over: OVERS[(OVERS.indexOf(q.over) + by + OVERS.length) % OVERS.length] ?? "weight" });
  useActions([
    {
      key: "arrowright",
      label: `${format.weight(example.step_mg)} heavier`,
      run: () => set({ weight: heavier(latest.current.weight, example.step_mg, format.system) }),
    },
    {
      key: "arrowleft",
      label: `${format.weight(example.step_mg)} lighter`,
      run: () => set({ weight: heavier(latest.current.weight, -example.step_mg, format.system) }),
    },
    {
      key: "o",
      label: "Price steps over weight, length, width, height in turn",
      run: () => turn(1),
    },
  ]);
  const fault = "fault" in read ? read.fault : "";
  return (
    <>
      <RatesTabs />
      <ScreenHead
        title={found.data ? headline(found.data, format.money) : "What would this parcel cost?"}
        under={
          found.data
            ? `By ${found.data.versions.join(", ")}`
            : "Every service of every current price list"
        }
      />
      <form
        className="grid grid-cols-[1.5fr_1fr_1.1fr_1.1fr_.9fr_1fr] gap-4 border-t border-line bg-sheet px-6 py-3 max-lg:grid-cols-2"
        onSubmit={(event) => event.preventDefault()}
      >
        <Field
          label="Outside"
          unit={format.system === "imperial" ? "in" : "mm"}
          value={q.size}
          fault={fault === "size" ? `Three lengths, such as ${example.size}` : undefined}
          onChange={(event) => set({ size: event.target.value })}
        />
        <Field
          label="Gross weight"
          value={q.weight}
          fault={fault === "weight" ? `A weight, such as ${example.weight}` : undefined}
          onChange={(event) => set({ weight: event.target.value })}
        />
        <Field
          label="To, country and postcode"
          value={q.to}
          fault={fault === "to" ? "Such as ALM DM4 6" : undefined}
          onChange={(event) => set({ to: event.target.value })}
        />
        <Field
          label="From, empty: here"
          value={q.from}
          onChange={(event) => set({ from: event.target.value })}
        />
        <Field
          label="Cover for"
          inputMode="decimal"
          unit={who.currency}
          value={q.worth}
          onChange={(event) => set({ worth: event.target.value })}
        />
        <Field
          label="Leaves, empty: next"
          type="date"
          value={q.on}
          onChange={(event) => set({ on: event.target.value })}
        />
      </form>
      <div className="px-6">
        <ProblemNote error={found.error} />
      </div>
      {found.data ? (
        <Answer
          found={found.data}
          over={q.over}
          read={"body" in read ? read.body : null}
          onOver={(over) => set({ over })}
        />
      ) : found.isPending && !fault ? (
        <Waiting what="what every service asks" />
      ) : null}
    </>
  );
}

function headline(found: Schemas["ComparedRates"], money: (amount: string) => string): string {
  const best = found.offers[0];
  if (!best) return "No service takes this parcel";
  const others = found.offers.length - 1;
  return `${money(best.quote.price)} with ${best.name}, the cheapest of ${others + 1}`;
}

function Answer({
  found,
  over,
  read,
  onOver,
}: {
  found: Schemas["ComparedRates"];
  over: Over;
  read: Schemas["CompareIn"] | null;
  onOver: (over: Over) => void;
}) {
  const format = useFormat();
  const tick = (value: number) =>
    over === "weight"
      ? format
          .weight(value)
          .replace(".000 kg", " kg")
          .replace(/(\.\d)00 kg/, "$1 kg")
      : format.length(value);
  const value = read
    ? over === "weight"
      ? read.gross_weight_mg
      : (read.outer_um[OVERS.indexOf(over) - 1] ?? 0)
    : 0;
  const best = found.offers[0]?.key;
  const lines = [
    ...found.offers.map((one) => ({
      key: one.key,
      name: one.name,
      steps: one.stairs,
      taken: true,
    })),
    ...found.refusals.map((one) => ({
      key: one.key,
      name: one.name,
      steps: one.stairs,
      taken: false,
    })),
  ];
  const crossings = found.crossings.slice(1).map((one) => ({
    above: one.above,
    key: one.key,
    words: one.key
      ? `above ${tick(one.above)} ${one.name}${one.cheaper_by ? `, ${format.money(one.cheaper_by)} less` : ""}`
      : `above ${tick(one.above)} nobody`,
  }));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_372px] border-t border-line max-lg:grid-cols-1">
      <div className="px-5 pb-3 pt-2">
        <div className="flex items-center gap-4" role="group" aria-label="Price steps over">
          {OVERS.map((one) => (
            <button
              key={one}
              type="button"
              aria-pressed={one === over}
              onClick={() => onOver(one)}
              className={`min-h-8 border-b-2 ${one === over ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
            >
              over {one}
            </button>
          ))}
          <span className="grow text-right text-small text-ink2">
            <span className="keycap">←</span> <span className="keycap">→</span>{" "}
            {format.weight(EXAMPLE[format.system].step_mg)} <span className="keycap ml-3">O</span>{" "}
            next measure
          </span>
        </div>
        <Stairs
          lines={lines}
          best={best}
          low={found.low}
          high={found.high}
          value={value}
          shown={tick(value)}
          crossings={crossings}
          tick={tick}
          money={format.money}
          label={`Price over ${over}.`}
        />
      </div>
      <section
        className="border-l border-line bg-sheet px-5 py-3 max-lg:border-l-0 max-lg:border-t lg:max-h-[calc(100vh-272px)] lg:min-h-120 lg:overflow-auto"
        aria-label="Services"
      >
        <h2 className="text-lead">
          {found.offers.length} of {found.offers.length + found.refusals.length} can take it
        </h2>
        <ul className="mt-1">
          {found.offers.map((one) => (
            <Offer key={one.key} one={one} />
          ))}
        </ul>
        {found.refusals.length > 0 ? (
          <>
            <h2 className="mt-3 text-[15px] text-ink2">Cannot</h2>
            <ul className="text-small text-ink2">
              {found.refusals.map((one) => (
                <li key={one.key} className="border-t border-line py-1">
                  {one.message}
                </li>
              ))}
            </ul>
          </>
        ) : null}
      </section>
    </div>
  );
}

function Offer({ one }: { one: Schemas["Offered"] }) {
  const format = useFormat();
  const { quote } = one;
  const near = one.cheaper[0];
  const measure = (step: Schemas["CheaperStep"]) =>
    step.measure === "weight"
      ? format.weight(step.less_by)
      : step.measure === "volume"
        ? format.cubic(step.less_by)
        : format.length(step.less_by);
  return (
    <li className="border-t border-line py-1.5">
      <details>
        <summary className="flex cursor-pointer items-baseline gap-2">
          <b className="font-head text-[18px]">{format.money(quote.price)}</b>
          <span className="min-w-0 grow">{one.name}</span>
          <span className="whitespace-nowrap text-small text-ink2">
            {dayWords(quote.arrives_on)}
          </span>
        </summary>
        <QuoteLines lines={quote.lines} />
        <p className="text-small text-ink2">
          Zone {quote.zone}, {many(quote.transit_days, "day")}, cut-off {quote.cut_off.slice(0, 5)},
          list {quote.tariff_version}.
          {quote.markings.length > 0 ? ` Must stand on it: ${quote.markings.join(", ")}.` : ""}
          {quote.claim_days !== null ? ` Claims within ${many(quote.claim_days, "day")}.` : ""}
        </p>
      </details>
      <p className="text-small text-ink2">
        {quote.format_name ? `${quote.format_name}, ` : ""}
        {quote.billed === "flat_rate"
          ? `one price up to ${format.weight(quote.step_mg)}`
          : `billed to ${format.weight(quote.step_mg)} by ${quote.billed}`}
        , cover {format.money(quote.cover)}
        {near ? (
          <span className="ml-1 text-mind">
            <Mark kind="mind" /> {measure(near)} less {near.measure} saves{" "}
            {format.money(near.saves)}
          </span>
        ) : null}
        {quote.notes.map((note) => (
          <span key={note} className="block">
            {note}
          </span>
        ))}
      </p>
    </li>
  );
}
