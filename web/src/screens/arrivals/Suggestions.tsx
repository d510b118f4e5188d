/** What would help where goods break: a drafted version with what it costs and saves; saved with one key. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { suggestions, takeSuggestion } from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { percent } from "../../domain/figures";
import { PLACES, PLACE_WORDS } from "../../domain/arriving";
import { many } from "../../domain/words";
import { Pick } from "../../ui/Pick";
import { Fold } from "../../ui/Fold";
import { useToast } from "../../ui/useToast";
import { Button, Mark, ProblemNote } from "../../ui/parts";

type Damage = Schemas["RecipeDamageOut"];
type Suggestion = Schemas["SuggestionOut"];
type CauseName = Schemas["SuggestionsOut"]["cause"];

const CAUSES = [
  ...PLACES.map((place) => ({ value: place as string, text: PLACE_WORDS[place] })),
  { value: "spoiled", text: "Heat and cold" },
];

export function Suggestions({ id, damage }: { id: number; damage: Damage }) {
  const where = damage.runs.find((run) => run.current)?.where;
  const [cause, setCause] = useState<CauseName | "">("");
  // Without a place that stands out nothing is drafted unasked: each draft is planned again for every order size.
  const wanted = cause !== "" || (where?.leading ?? null) !== null;
  const query = useQuery({ ...suggestions(id, cause), enabled: wanted });
  const found = query.data?.suggestions ?? [];
  return (
    <>
      <div className="flex items-center justify-between gap-4">
        <h2 className="text-lead">
          {found[0]
            ? `Version ${damage.version + 1}, drafted`
            : wanted
              ? "What would help"
              : "No place stands out"}
        </h2>
        <div className="flex shrink-0 items-center gap-2 text-small text-ink2">
          <span aria-hidden="true">against</span>
          <Pick
            className="min-h-9 w-40 text-base text-ink"
            label="Against"
            value={cause || query.data?.cause || where?.places[0]?.place || "bottom"}
            options={CAUSES}
            onPick={(now) => setCause(now as CauseName)}
          />
        </div>
      </div>
      <ProblemNote error={query.error} />
      {!wanted ? (
        <p className="mt-1 text-ink2">
          Three breakages at one place and more than half of all point at a cause. Choose a place to
          see what could be changed there.
        </p>
      ) : null}
      {wanted && query.isPending ? (
        <p role="status" className="mt-2 text-ink2">
          Drafting and planning what could be changed
        </p>
      ) : null}
      {query.isSuccess && found.length === 0 ? (
        <p className="mt-1">
          Nothing of the cupboard would change this parcel there: no thicker board, cushion or box
          that it fits.
        </p>
      ) : null}
      {query.data && found[0] ? <Best all={query.data} one={found[0]} id={id} /> : null}
      {found.length > 1 && query.data ? (
        <Fold title={`${many(found.length - 1, "other way")}`} open={false} className="mt-3">
          {found.slice(1).map((one) => (
            <div key={one.code} className="border-t border-line py-2">
              <Costed one={one} />
              <Take id={id} all={query.data} one={one} quiet />
            </div>
          ))}
        </Fold>
      ) : null}
    </>
  );
}

function Best({ all, one, id }: { all: Schemas["SuggestionsOut"]; one: Suggestion; id: number }) {
  return (
    <div className="mt-1">
      {all.leads ? null : (
        <p className="text-small text-mind">
          <Mark kind="mind" /> {String(all.place)} does not stand out: this may not be the cause.
        </p>
      )}
      <Costed one={one} large />
      <Take id={id} all={all} one={one} />
    </div>
  );
}

function Costed({ one, large = false }: { one: Suggestion; large?: boolean }) {
  const format = useFormat();
  const verdict = {
    pays: "It pays.",
    does_not: "It does not pay.",
    not_enough: "Not enough known.",
  }[one.verdict];
  return (
    <>
      <p className={large ? "text-lead" : ""}>{one.words.map(String).join("; ")}.</p>
      <p className="text-small text-ink2">
        All else as it is; {format.signedWeight(Number(one.grams) * 1000)} a parcel
        {one.steps_passed > 0
          ? `, ${many(one.steps_passed, "order size")} up a price step`
          : ", no step passed"}
      </p>
      <dl className="mt-2">
        <Line words="Costs more, a parcel" value={format.signed(Number(one.extra_cost))} />
        <Line
          words={`Saves, a parcel: from ${percent(Number(one.rate), 1)} to ${percent(Number(one.rate_after), 1)} of ${format.money(one.at_risk)} lost${one.as_version === null ? "" : `, as version ${one.as_version}`}`}
          value={format.signed(-Number(one.saves_cost))}
          under={`between ${format.signed(-Number(one.saves_cost_high))} and ${format.signed(-Number(one.saves_cost_low))}`}
        />
      </dl>
      <p className="flex justify-between gap-4 border-t border-line pt-2">
        <span>
          <b className={large ? "font-head text-lead" : ""}>{verdict}</b>{" "}
          <span className="text-ink2">
            {one.verdict === "not_enough" ? "Expected: " : ""}
            {format.signed(-Number(one.gain_a_month_cost))} a month, as many as were sent last
          </span>
        </span>
        <b className={large ? "font-head text-lead" : ""}>
          {format.signed(-Number(one.gain_cost))}
        </b>
      </p>
    </>
  );
}

function Line({ words, value, under }: { words: string; value: string; under?: string }) {
  return (
    <div className="flex justify-between gap-4 border-t border-line py-1.5">
      <dt>
        {words}
        {under ? <span className="block text-small text-ink2">{under}</span> : null}
      </dt>
      <dd className="shrink-0">{value}</dd>
    </div>
  );
}

function Take({
  id,
  all,
  one,
  quiet = false,
}: {
  id: number;
  all: Schemas["SuggestionsOut"];
  one: Suggestion;
  quiet?: boolean;
}) {
  const owner = useSession().role === "owner";
  const say = useToast();
  const navigate = useNavigate();
  const take = useMutation(takeSuggestion(id));
  const save = (for_trial: boolean) => {
    if (take.isPending) return;
    take.mutate(
      { cause: all.cause, code: one.code, base_version: all.base_version, for_trial },
      {
        onSuccess: (made) => {
          say(
            for_trial
              ? `Version ${made.version} is made for a trial; orders go on as before.`
              : `Version ${made.version} is current; open orders follow.`,
          );
          if (for_trial)
            void navigate(
              `/arrivals/trials?recipe=${id}&versions=${all.base_version},${made.version}`,
            );
        },
      },
    );
  };
  useActions([
    {
      key: "s",
      label: `Save as version ${all.base_version + 1}`,
      run: () => save(false),
      off: quiet || !owner,
    },
    { key: "y", label: "Try it in a trial", run: () => save(true), off: quiet || !owner },
  ]);
  if (!owner) return null;
  return (
    <div className="mt-3 flex flex-wrap gap-2.5">
      <Button
        kind={quiet ? "plain" : "next"}
        {...(quiet ? {} : { hotkey: "S" })}
        disabled={take.isPending}
        onClick={() => save(false)}
      >
        Save as new version
      </Button>
      <Button
        {...(quiet ? {} : { hotkey: "Y" })}
        disabled={take.isPending}
        onClick={() => save(true)}
      >
        Try it in a trial
      </Button>
      <ProblemNote error={take.error} />
    </div>
  );
}
