/** What following a policy would change: recipe by recipe, order size by order size. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { followPolicy, policyEffect } from "../../api/recipes";
import { useFormat } from "../../app/session";
import { signed } from "../../domain/figures";
import { Table, type Column } from "../../ui/list/Table";
import { useToast } from "../../ui/useToast";
import { Button, Mark, ProblemNote, Waiting } from "../../ui/parts";

type Policy = Schemas["PolicyOut"];
type RecipeEffect = Schemas["EffectOut"]["effects"][number];
type BandEffect = RecipeEffect["bands"][number];

export function Effect({ policy, owner }: { policy: Policy; owner: boolean }) {
  const say = useToast();
  const found = useQuery(policyEffect(policy.policy));
  const [left, setLeft] = useState<number[]>([]);
  const obey = useMutation({
    ...followPolicy(policy.policy),
    onSuccess: (done) =>
      say(
        `${done.made.length === 0 ? "No new version" : `New: ${done.made.join("; ")}`}.${done.left.length > 0 ? ` Left: ${done.left.join(" ")}` : ""}`,
      ),
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
        <EffectTable rows={rows} left={left} onLeft={owner ? setLeft : null} />
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

/** A line an order size; the recipe and why stand at its first. */
interface Line {
  row: RecipeEffect;
  band: BandEffect;
  first: boolean;
}

function EffectTable({
  rows,
  left,
  onLeft,
}: {
  rows: readonly RecipeEffect[];
  left: readonly number[];
  onLeft: ((left: number[]) => void) | null;
}) {
  const format = useFormat();
  const lines = rows.flatMap((row) => row.bands.map((band, n) => ({ row, band, first: n === 0 })));
  const figure = (key: "cost" | "grams" | "minutes", name: string): Column<Line> => ({
    key,
    name,
    num: true,
    cell: ({ band }) => {
      const value = band.problem ? null : band[key];
      if (value === null) return "";
      return key === "grams" ? signed(Math.round(Number(value))) : format.signed(value);
    },
  });
  const toggle = (id: number) =>
    onLeft?.(left.includes(id) ? left.filter((one) => one !== id) : [...left, id]);
  return (
    <Table
      className="mt-2"
      caption="What following it would change"
      rows={lines}
      rowKey={({ row, band }) => `${row.recipe_id}-${band.band}`}
      columns={[
        {
          key: "recipe",
          name: "Recipe",
          className: "min-w-44",
          cell: ({ row, first }) =>
            first ? (
              <label className="flex gap-2">
                <input
                  type="checkbox"
                  className="mt-1 size-4"
                  disabled={onLeft === null}
                  checked={!left.includes(row.recipe_id)}
                  aria-label={`${row.recipe}: make a new version`}
                  onChange={() => toggle(row.recipe_id)}
                />
                <Link
                  className="font-semibold text-action hover:underline"
                  to={`/recipes/${row.recipe_id}`}
                >
                  {row.recipe}
                </Link>
              </label>
            ) : null,
        },
        {
          key: "why",
          name: "Why",
          className: "min-w-40 max-w-72 text-small",
          cell: ({ row, first }) => (first ? <Why row={row} /> : null),
        },
        {
          key: "size",
          name: "Size",
          className: "w-full min-w-24",
          cell: ({ band }) => (
            <>
              {band.band}
              {band.problem ? (
                <span className="block text-small">
                  <Mark kind="mind" /> {band.problem}
                </span>
              ) : null}
            </>
          ),
        },
        figure("cost", "Cost"),
        figure("grams", "Grams"),
        figure("minutes", "Minutes"),
      ]}
    />
  );
}

function Why({ row }: { row: RecipeEffect }) {
  return (
    <>
      {[...new Set(row.breaches.map((one) => one.words))].slice(0, 2).join(" ")}
      {row.left.map((words) => (
        <span key={words} className="mt-1 flex gap-2">
          <Mark kind="mind" />
          {words}
        </span>
      ))}
    </>
  );
}
