/** Policies: what every recipe must keep to or is marked against; what turning one on would change. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { policies, policyEffect } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { useToast } from "../../ui/overlays";
import { Button, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { DeskTabs } from "../recipes/DeskTabs";

type Policy = Schemas["PolicyOut"];

export function PoliciesScreen() {
  const list = useQuery(policies());
  const owner = useSession().role === "owner";
  const client = useQueryClient();
  const say = useToast();
  const [at, setAt] = useState(0);
  const rows = list.data?.policies ?? [];
  const here = rows[at];
  const set = useMutation({
    mutationFn: (now: Policy["policy"][]) =>
      answer(api.PUT("/api/policies", { body: { policies: now } })),
    onSuccess: () => {
      say("Recipes that break it are marked; none was changed.");
      void client.invalidateQueries({ queryKey: ["policies"] });
      void client.invalidateQueries({ queryKey: ["readiness"] });
      void client.invalidateQueries({ queryKey: ["recipe"] });
    },
  });
  const turn = (one: Policy | undefined) => {
    if (!one || set.isPending) return;
    set.mutate(
      rows.filter((row) => (row.policy === one.policy ? !row.on : row.on)).map((row) => row.policy),
    );
  };
  useActions([
    {
      key: "arrowdown",
      label: "Next policy",
      run: () => setAt((n) => Math.min(n + 1, rows.length - 1)),
    },
    { key: "arrowup", label: "Policy before", run: () => setAt((n) => Math.max(n - 1, 0)) },
    { key: "x", label: "Turn the policy on or off", run: () => turn(here), off: !owner },
  ]);
  if (list.isPending) return <Waiting what="your policies" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const on = rows.filter((row) => row.on).length;
  return (
    <>
      <DeskTabs />
      <ScreenHead
        title={
          on === 0
            ? "No policy is active"
            : `${on} ${on === 1 ? "policy is" : "policies are"} active`
        }
        under="A policy never changes a recipe by itself: recipes that break it are marked, and a new version is offered"
      />
      <div className="px-6">
        <ProblemNote error={set.error} />
      </div>
      <div className="grid grid-cols-[360px_minmax(0,1fr)] border-t border-line bg-sheet max-lg:grid-cols-1">
        <ul className="border-r border-line py-2" aria-label="Policies">
          {rows.map((row, index) => (
            <li
              key={row.policy}
              className={`flex items-center gap-3 px-6 py-2 ${index === at ? "bg-soft" : ""}`}
            >
              <input
                type="checkbox"
                className="size-5"
                checked={row.on}
                disabled={!owner || set.isPending}
                aria-label={`${row.words}: active`}
                onChange={() => {
                  setAt(index);
                  turn(row);
                }}
              />
              <button
                type="button"
                aria-pressed={index === at}
                className={`text-left ${row.on ? "font-semibold" : ""}`}
                onClick={() => setAt(index)}
              >
                {row.words}
              </button>
            </li>
          ))}
        </ul>
        {here ? <Effect key={here.policy} policy={here} owner={owner} /> : null}
      </div>
    </>
  );
}

function Effect({ policy, owner }: { policy: Policy; owner: boolean }) {
  const format = useFormat();
  const client = useQueryClient();
  const say = useToast();
  const found = useQuery(policyEffect(policy.policy));
  const [left, setLeft] = useState<number[]>([]);
  const obey = useMutation({
    mutationFn: (recipe_ids: number[]) =>
      answer(
        api.POST("/api/policies/{policy}/effect", {
          params: { path: { policy: policy.policy } },
          body: { recipe_ids },
        }),
      ),
    onSuccess: (done) => {
      say(
        `${done.made.length === 0 ? "No new version" : `New: ${done.made.join("; ")}`}.${done.left.length > 0 ? ` Left: ${done.left.join(" ")}` : ""}`,
      );
      void client.invalidateQueries();
    },
  });
  if (found.isPending) return <Waiting what="what it would change" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  const rows = found.data.effects;
  const chosen = rows.filter((row) => !left.includes(row.recipe_id)).map((row) => row.recipe_id);
  return (
    <section
      className="min-w-0 px-6 py-3"
      aria-label={`What ${policy.words.toLowerCase()} changes`}
    >
      <h2 className="text-lead">
        {rows.length === 0
          ? "Every recipe follows it"
          : `${rows.length} ${rows.length === 1 ? "recipe does" : "recipes do"} not follow it`}
      </h2>
      {rows.length > 0 ? (
        <table className="rule-table mt-2">
          <caption className="sr-only">What following it would change</caption>
          <thead>
            <tr>
              <th scope="col">Recipe</th>
              <th scope="col">Why</th>
              <th scope="col">Size</th>
              <th scope="col" className="num">
                Cost
              </th>
              <th scope="col" className="num">
                Grams
              </th>
              <th scope="col" className="num">
                Minutes
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) =>
              row.bands.map((band, n) => (
                <tr key={`${row.recipe_id}-${band.band}`}>
                  {n === 0 ? (
                    <td rowSpan={row.bands.length} className="align-top">
                      <label className="flex gap-2">
                        <input
                          type="checkbox"
                          className="mt-1 size-4"
                          disabled={!owner}
                          checked={!left.includes(row.recipe_id)}
                          aria-label={`${row.recipe}: make a new version`}
                          onChange={() =>
                            setLeft(
                              left.includes(row.recipe_id)
                                ? left.filter((one) => one !== row.recipe_id)
                                : [...left, row.recipe_id],
                            )
                          }
                        />
                        <Link
                          className="font-semibold text-action hover:underline"
                          to={`/recipes/${row.recipe_id}`}
                        >
                          {row.recipe}
                        </Link>
                      </label>
                    </td>
                  ) : null}
                  {n === 0 ? (
                    <td rowSpan={row.bands.length} className="max-w-72 align-top text-small">
                      {[...new Set(row.breaches.map((one) => one.words))].slice(0, 2).join(" ")}
                      {row.left.map((words) => (
                        <span key={words} className="mt-1 flex gap-2">
                          <Mark kind="mind" />
                          {words}
                        </span>
                      ))}
                    </td>
                  ) : null}
                  <td>{band.band}</td>
                  {band.problem ? (
                    <td colSpan={3} className="text-small">
                      <Mark kind="mind" /> {band.problem}
                    </td>
                  ) : (
                    <>
                      <td className="num">{band.cost === null ? "" : format.signed(band.cost)}</td>
                      <td className="num">
                        {band.grams === null
                          ? ""
                          : `${Number(band.grams) > 0 ? "+" : ""}${Math.round(Number(band.grams))}`}
                      </td>
                      <td className="num">
                        {band.minutes === null ? "" : format.signed(band.minutes)}
                      </td>
                    </>
                  )}
                </tr>
              )),
            )}
          </tbody>
        </table>
      ) : null}
      <ProblemNote error={obey.error} />
      {owner && rows.length > 0 ? (
        <div className="mt-3">
          <Button
            kind="next"
            disabled={chosen.length === 0 || obey.isPending}
            onClick={() => obey.mutate(chosen)}
          >
            Make new versions of {chosen.length}
          </Button>
        </div>
      ) : null}
    </section>
  );
}
