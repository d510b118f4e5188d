/** What broke where: the parcel with its breakages, what would help and whether it pays, how each version arrived. */
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { arrivals, damageByRecipe, recipeDamage } from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import { useSession } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { Pick } from "../../ui/Pick";
import { Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { useAddress } from "../../ui/list/useList";
import { AnswerSheet } from "./AnswerSheet";
import { AskList, ToldRow } from "./AskList";
import { Places } from "./Places";
import { Rates } from "./Rates";
import { Suggestions } from "./Suggestions";
import { ArrivalsTabs } from "./Tabs";
import { useAnswers } from "./useAnswers";

type Damage = Schemas["RecipeDamageOut"];

export function WhereScreen() {
  const list = useQuery(damageByRecipe());
  const [params, set] = useAddress();
  if (list.isPending) return <Waiting what="what arrived" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const recipes = list.data.recipes;
  const first = recipes[0];
  if (!first)
    return (
      <>
        <ArrivalsTabs />
        <Empty title="No parcel has left yet">
          What is handed over stands here until you know how it arrived.{" "}
          <Link className="text-action underline" to="/send-off">
            To the send-off
          </Link>
        </Empty>
      </>
    );
  const wanted = Number(params.get("recipe"));
  const id = recipes.some((one) => one.id === wanted) ? wanted : first.id;
  return (
    <>
      <ArrivalsTabs />
      <OneRecipe
        key={id}
        id={id}
        picker={
          <Pick
            label="Recipe"
            value={String(id)}
            className="min-h-10 w-64"
            options={recipes.map((one) => ({
              value: String(one.id),
              text: `${one.name}: ${one.damaged} of ${one.known}`,
            }))}
            onPick={(now) => set({ recipe: now })}
          />
        }
      />
    </>
  );
}

function OneRecipe({ id, picker }: { id: number; picker: ReactNode }) {
  const query = useQuery(recipeDamage(id));
  const who = useSession();
  if (query.isPending) return <Waiting what="how its parcels arrived" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const damage = query.data;
  const run = damage.runs.find((one) => one.current);
  return (
    <>
      <ScreenHead title={damage.headline} under={run ? under(damage, run) : ""}>
        {picker}
      </ScreenHead>
      <div className="grid grid-cols-2 border-t border-line bg-sheet max-lg:grid-cols-1">
        <section
          className="border-r border-line px-6 py-3 max-lg:border-r-0"
          aria-label="Where they broke"
        >
          {run ? <Places outer={damage.outer_um} run={run} /> : null}
        </section>
        <section className="px-6 py-3 max-lg:border-t max-lg:border-line">
          <Asking />
        </section>
      </div>
      <div className="grid grid-cols-2 border-t border-line max-lg:grid-cols-1">
        <section className="border-r border-line px-6 py-3 max-lg:border-r-0">
          {who.sees_costs ? <Suggestions id={id} damage={damage} /> : null}
        </section>
        <section className="px-6 py-3 max-lg:border-t max-lg:border-line">
          <Rates damage={damage} />
        </section>
      </div>
    </>
  );
}

function under(damage: Damage, run: Damage["runs"][number]): string {
  const which =
    run.first === run.last ? `version ${run.first}` : `versions ${run.first} to ${run.last}`;
  const known = run.counted.known;
  return `${damage.name}, ${which}, from ${dayWords(run.since)}: ${many(known, "parcel")} known, ${run.counted.damaged} damaged${damage.unheard > 0 ? `; of ${damage.unheard} nobody knows yet` : ""}`;
}

/** The next few to ask about, and what was told last. */
function Asking() {
  const asked = useQuery(arrivals("ask", "", 1));
  const told = useQuery(arrivals("told", "", 1));
  const rows = asked.data?.results.slice(0, 3) ?? [];
  const answers = useAnswers(rows);
  const count = asked.data?.count ?? 0;
  return (
    <>
      <h2 className="flex items-baseline justify-between text-lead">
        {count === 0 ? "Nothing to ask about" : `${count} to ask about`}
        {count > 0 ? (
          <span className="text-small font-normal text-ink2">whole, if nobody writes by</span>
        ) : null}
      </h2>
      <ProblemNote error={answers.error} />
      <AskList rows={rows} answers={answers} label="To ask about" />
      {count > rows.length ? (
        <p className="border-t border-line">
          <Link
            className="inline-flex min-h-9 items-center text-action hover:underline"
            to="/arrivals/parcels"
          >
            All {count}
          </Link>
        </p>
      ) : null}
      <h2 className="mt-2 text-lead">Just told</h2>
      <ul>
        {(told.data?.results ?? []).slice(0, 2).map((row) => (
          <ToldRow key={row.id} row={row} onOpen={() => answers.tell(row)} />
        ))}
      </ul>
      {answers.told ? (
        <AnswerSheet arrival={answers.told} onClose={() => answers.tell(null)} />
      ) : null}
    </>
  );
}
