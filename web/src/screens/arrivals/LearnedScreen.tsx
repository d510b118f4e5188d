/** What the bench taught: minutes, weights, bulge, fill; before and after, what it changes, taken and taken back. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  learned,
  learnedEffects,
  learnedTaken,
  takeLearned,
  undoLearned,
} from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import { useFormat, useSession } from "../../app/session";
import { fixed } from "../../domain/figures";
import { dayWords, many } from "../../domain/words";
import { useAddress } from "../../ui/list/useList";
import { Pager } from "../../ui/Pager";
import { useRequestKey } from "../../ui/useRequestKey";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { ArrivalsTabs } from "./Tabs";

type Offer = Schemas["OfferedOut"];
type Figure = Offer["figures"][number];

const KINDS: Record<Offer["kind"], string> = {
  minutes: "Minutes",
  weight: "Weight of a unit",
  bulge: "Bulge",
  fill: "Fill used",
};
const FIGURES: Record<string, string> = {
  unit: "each unit",
  parcel: "each parcel",
  weight: "a unit weighs",
  spread: "units differ by",
  bulge: "flaps stand out by",
  factor: "loose litres a litre of void",
};

export function LearnedScreen() {
  const list = useQuery(learned());
  return (
    <>
      <ArrivalsTabs />
      <ScreenHead
        title={
          list.data
            ? list.data.offers.length === 0
              ? "Plans go by what the bench says"
              : `${many(list.data.offers.length, "value")} to look at`
            : "Learned"
        }
        under="What times, weighings, measurements and counts say otherwise than plans. Nothing is taken by itself."
      />
      <div className="border-t border-line bg-sheet px-6 py-4">
        <ProblemNote error={list.error} />
        {list.isPending ? <Waiting what="what the bench says" /> : null}
        {list.data?.offers.length === 0 ? (
          <Empty title="Nothing differs enough to matter">
            Eight parcels of a recipe teach minutes, five weighed ones a weight, five measured ones
            how a fill bulges, two counts how much fill is used.
          </Empty>
        ) : null}
        {(list.data?.offers ?? []).map((offer) => (
          <OfferPart key={`${offer.kind} ${offer.subject}`} offer={offer} />
        ))}
        <Taken />
      </div>
    </>
  );
}

function useFigure() {
  const format = useFormat();
  return (value: string | number, unit: Figure["unit"]): string =>
    ({
      minutes: () => `${fixed(Number(value), 1)} min`,
      mg: () => format.weight(Number(value)),
      um: () => format.length(Number(value)),
      number: () => fixed(Number(value), 2),
    })[unit]();
}

function Figures({ figures, back = false }: { figures: readonly Figure[]; back?: boolean }) {
  const shown = useFigure();
  return (
    <dl className="flex flex-wrap gap-x-8">
      {figures.map((one) => (
        <div key={one.name}>
          <dt className="text-small text-ink2">{FIGURES[one.name] ?? one.name}</dt>
          <dd>
            {shown(back ? one.after : one.before, one.unit)} →{" "}
            <b>{shown(back ? one.before : one.after, one.unit)}</b>
          </dd>
        </div>
      ))}
    </dl>
  );
}

function OfferPart({ offer }: { offer: Offer }) {
  const owner = useSession().role === "owner";
  const shown = useFigure();
  const say = useToast();
  const [key, renew] = useRequestKey();
  const take = useMutation(takeLearned());
  const [looking, setLooking] = useState(false);
  const unit = offer.figures[0]?.unit ?? "number";
  return (
    <section className="border-t border-line py-3 first:border-t-0" aria-label={offer.name}>
      <div className="flex flex-wrap items-center gap-x-8 gap-y-2">
        <h2 className="w-64 text-lead">
          {offer.name}
          <span className="block text-small font-normal text-ink2">{KINDS[offer.kind]}</span>
        </h2>
        <div className="grow">
          <Figures figures={offer.figures} />
          <p className="text-small text-ink2">
            from {many(offer.count, offer.kind === "fill" ? "count" : "parcel")}
            {Number(offer.error) > 0
              ? `, give or take ${shown(offer.error, unit).replace(/^0 /, "less than 1 ")}`
              : ""}
            {offer.left_out > 0 ? `; ${many(offer.left_out, "pause")} left out` : ""}
          </p>
        </div>
        <div className="flex gap-2.5">
          <Button aria-expanded={looking} onClick={() => setLooking(!looking)}>
            What it changes
          </Button>
          {owner ? (
            <Button
              kind="next"
              disabled={take.isPending}
              onClick={() =>
                take.mutate(
                  {
                    request_key: key,
                    kind: offer.kind,
                    subject: offer.subject,
                    after: Object.fromEntries(offer.figures.map((one) => [one.name, one.after])),
                  },
                  {
                    onSuccess: () => {
                      renew();
                      say(`${offer.name}: plans go by it from now on.`);
                    },
                  },
                )
              }
            >
              Apply
            </Button>
          ) : null}
        </div>
      </div>
      <ProblemNote error={take.error} />
      {looking ? <Effects offer={offer} /> : null}
    </section>
  );
}

function Effects({ offer }: { offer: Offer }) {
  const query = useQuery(learnedEffects({ kind: offer.kind, subject: offer.subject }));
  const format = useFormat();
  const costs = useSession().sees_costs;
  if (query.isPending) return <Waiting what="what it changes" />;
  if (query.isError) return <ProblemNote error={query.error} />;
  if (query.data.effects.length === 0)
    return <p className="py-2 text-ink2">No recipe that plans uses it.</p>;
  return (
    <table className="rule-table mt-2 max-w-3xl">
      <thead>
        <tr>
          <th>Recipe</th>
          <th>Order size</th>
          {costs ? <th className="num">Cost a parcel</th> : null}
          <th className="num">Weight</th>
          <th>Service</th>
        </tr>
      </thead>
      <tbody>
        {query.data.effects.map((one) => (
          <tr key={`${one.recipe} ${String(one.band)}`}>
            <td>{one.recipe}</td>
            <td>{String(one.band)}</td>
            {costs ? <td className="num">{format.signed(one.cost)}</td> : null}
            <td className="num">{format.signedWeight(Number(one.grams) * 1000)}</td>
            <td>
              {one.service === one.service_was ? (
                <span className="text-ink2">as before</span>
              ) : (
                <>
                  <Mark kind="mind" /> {one.service} instead of {one.service_was}
                </>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Taken() {
  const [params, set] = useAddress();
  const page = Number(params.get("page")) || 1;
  const list = useQuery(learnedTaken(page));
  const owner = useSession().role === "owner";
  const say = useToast();
  const undo = useMutation(undoLearned());
  const rows = list.data?.results ?? [];
  if (rows.length === 0) return null;
  return (
    <>
      <h2 className="mt-4 text-lead">Applied before</h2>
      <ProblemNote error={undo.error} />
      <ul>
        {rows.map((row) => (
          <li
            key={row.id}
            className="flex flex-wrap items-center gap-x-8 gap-y-1 border-t border-line py-2"
          >
            <span className="w-64">
              <b>{row.name}</b>
              <span className="block text-small text-ink2">
                {KINDS[row.kind]}, {dayWords(row.taken_at)}, {row.taken_by}, from{" "}
                {many(row.count, row.kind === "fill" ? "count" : "parcel")}
              </span>
            </span>
            <span className="grow">
              <Figures figures={row.figures} />
            </span>
            {row.undone_at ? (
              <span className="text-ink2">
                undone {dayWords(row.undone_at)}, {row.undone_by}
              </span>
            ) : owner ? (
              <Button
                disabled={undo.isPending}
                onClick={() =>
                  undo.mutate(row.id, {
                    onSuccess: () => say(`${row.name}: the value of before is back.`),
                  })
                }
              >
                Undo
              </Button>
            ) : null}
          </li>
        ))}
      </ul>
      <Pager
        page={page}
        pages={list.data?.pages ?? 1}
        onPage={(now) => set({ page: String(now) })}
      />
    </>
  );
}
