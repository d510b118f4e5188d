/** Recipes: how each product is packed; a new one is proposed; files in and out. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { importRecipes, products, recipes } from "../../api/recipes";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { many } from "../../domain/words";
import { FileButton } from "../../ui/FileButton";
import { useToast } from "../../ui/useToast";
import { ListBar, Pages } from "../../ui/list/ListBar";
import { Table } from "../../ui/list/Table";
import { useList, type ListState } from "../../ui/list/useList";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting, LinkButton } from "../../ui/parts";
import { DeskTabs } from "./DeskTabs";
import { RetiredRecipes } from "./RetiredRecipes";

export function RecipesScreen() {
  const known = useQuery(recipes());
  const goods = useQuery(products());
  const owner = useSession().role === "owner";
  const say = useToast();
  const navigate = useNavigate();
  const [at, setAt] = useState(0);
  const [retired, setRetired] = useState(false);
  const all = goods.data?.results ?? [];
  const every = known.data?.results ?? [];
  const list = useList(every, rulesFor(all));
  const rows = list.rows;
  const take = useMutation({
    ...importRecipes(),
    onSuccess: (done) => say(done.words),
  });
  useActions([
    {
      key: "arrowdown",
      label: "Next recipe",
      run: () => setAt((n) => Math.min(n + 1, rows.length - 1)),
    },
    { key: "arrowup", label: "Recipe before", run: () => setAt((n) => Math.max(n - 1, 0)) },
    {
      key: "enter",
      label: "Open the recipe",
      run: () => {
        const row = rows[at];
        if (row) void navigate(`/recipes/${row.id}`);
      },
    },
    {
      key: "n",
      label: "New recipe, proposed",
      run: () => void navigate("/recipes/new"),
      off: !owner,
    },
  ]);
  if (known.isPending || goods.isPending) return <Waiting what="the recipes" />;
  if (known.isError)
    return (
      <div className="p-6">
        <ProblemNote error={known.error} />
      </div>
    );
  const bare = all.filter((product) => product.recipe_id === null && product.contents.length === 0);
  const untried = every.filter((row) => !row.tried).length;
  return (
    <>
      {retired ? <RetiredRecipes onClose={() => setRetired(false)} /> : null}
      <DeskTabs />
      <ScreenHead
        title={
          every.length === 0
            ? "No recipe yet"
            : `${many(every.length, "recipe")} for ${many(all.length - bare.length, "product")}`
        }
        under={`${untried === 0 ? "All versions tested" : `${many(untried, "version")} not tested`}${bare.length > 0 ? `; ${many(bare.length, "product")} without a recipe` : ""}`}
      >
        <Button kind="quiet" onClick={() => setRetired(true)}>
          Retired
        </Button>
        <LinkButton href="/api/recipes/file" download>
          Export
        </LinkButton>
        {owner ? (
          <FileButton
            text="Import file"
            accept=".json,.pdf"
            onFile={(name, content) => take.mutate({ name, content })}
          />
        ) : null}
        {owner ? (
          <Button kind="next" hotkey="N" onClick={() => void navigate("/recipes/new")}>
            New recipe
          </Button>
        ) : null}
      </ScreenHead>
      {take.error ? (
        <div className="px-6 pb-3">
          <ProblemNote error={take.error} />
        </div>
      ) : null}
      {every.length === 0 ? (
        <Empty title="No recipe yet">
          <p>Press N: one is proposed from a product’s size, weight and nature.</p>
        </Empty>
      ) : (
        <RecipeList list={list} goods={all} at={at} onAt={setAt} />
      )}
    </>
  );
}

type Recipe = Schemas["RecipeRow"];
type Product = Schemas["ProductOut"];

const packs = (row: Recipe, goods: readonly Product[]) =>
  goods
    .filter((product) => product.recipe_id === row.id)
    .map((product) => product.name)
    .join(", ");

const rulesFor = (goods: readonly Product[]) => ({
  text: (row: Recipe) => `${row.name} ${row.code} ${packs(row, goods)}`,
  filters: [
    { key: "untested", name: "This version not tested", holds: (row: Recipe) => !row.tried },
    { key: "idle", name: "Packs nothing yet", holds: (row: Recipe) => packs(row, goods) === "" },
  ],
  by: {
    recipe: (row: Recipe) => row.name,
    packs: (row: Recipe) => packs(row, goods),
    version: (row: Recipe) => row.version,
  },
});

function RecipeList({
  list,
  goods,
  at,
  onAt,
}: {
  list: ListState<Recipe>;
  goods: readonly Product[];
  at: number;
  onAt: (index: number) => void;
}) {
  return (
    <div className="border-t border-line bg-sheet">
      <ListBar {...list.bar} searchLabel="Search recipes" />
      <Table
        caption="Recipes"
        opens
        {...list.table}
        rowKey={(row) => row.id}
        picked={(_, index) => index === at}
        onOver={onAt}
        columns={[
          {
            key: "recipe",
            name: "Recipe",
            sorts: true,
            className: "pl-6!",
            cell: (row) => (
              <Link className="font-semibold text-action hover:underline" to={`/recipes/${row.id}`}>
                {row.name}
              </Link>
            ),
          },
          {
            key: "packs",
            name: "Packs",
            sorts: true,
            className: "text-ink2",
            cell: (row) => (
              <span className="line-clamp-1">{packs(row, goods) || "no product yet"}</span>
            ),
          },
          {
            key: "tested",
            name: "Tested",
            className: "whitespace-nowrap",
            cell: (row) => (
              <>
                <Mark kind={row.tried ? "done" : "mind"} />{" "}
                {row.tried ? "tested" : "this version not tested"}
              </>
            ),
          },
          {
            key: "version",
            name: "Version",
            num: true,
            sorts: true,
            className: "pr-6!",
            cell: (row) => row.version,
          },
        ]}
      />
      {list.found === 0 ? <p className="px-6 py-5 text-ink2">No recipe is like that.</p> : null}
      <Pages page={list.page} pages={list.pages} onTurn={list.turnTo} />
    </div>
  );
}
