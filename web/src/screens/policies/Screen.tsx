/** Policies: what every recipe must keep to or is marked against; what turning one on would change. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { setPolicies, policies } from "../../api/recipes";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { useToast } from "../../ui/useToast";
import { ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { DeskTabs } from "../recipes/DeskTabs";
import { Effect } from "./Effect";

type Policy = Schemas["PolicyOut"];

export function PoliciesScreen() {
  const list = useQuery(policies());
  const owner = useSession().role === "owner";
  const say = useToast();
  const [at, setAt] = useState(0);
  const rows = list.data?.policies ?? [];
  const here = rows[at];
  const set = useMutation({
    ...setPolicies(),
    onSuccess: () => say("Recipes that break it are marked; none was changed."),
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
