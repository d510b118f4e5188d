/** Recipes: how each product is packed; a new one is proposed; files in and out. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api } from "../../api/client";
import { products, recipes } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { many } from "../../domain/words";
import { OPENS } from "../../ui/rows";
import { FileButton } from "../../ui/FileButton";
import { useToast } from "../../ui/overlays";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { DeskTabs } from "./DeskTabs";

export function RecipesScreen() {
  const list = useQuery(recipes());
  const goods = useQuery(products());
  const owner = useSession().role === "owner";
  const client = useQueryClient();
  const say = useToast();
  const navigate = useNavigate();
  const [at, setAt] = useState(0);
  const rows = list.data?.results ?? [];
  const take = useMutation({
    mutationFn: (body: { name: string; content: string }) =>
      answer(api.POST("/api/recipes/file", { body })),
    onSuccess: (done) => {
      say(done.words);
      void client.invalidateQueries();
    },
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
  if (list.isPending || goods.isPending) return <Waiting what="the recipes" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const all = goods.data?.results ?? [];
  const bare = all.filter((product) => product.recipe_id === null && product.contents.length === 0);
  const untried = rows.filter((row) => !row.tried).length;
  return (
    <>
      <DeskTabs />
      <ScreenHead
        title={
          rows.length === 0
            ? "No recipe yet"
            : `${many(rows.length, "recipe")} for ${many(all.length - bare.length, "product")}`
        }
        under={`${untried === 0 ? "All versions tested" : `${many(untried, "version")} not tested`}${bare.length > 0 ? `; ${many(bare.length, "product")} without a recipe` : ""}`}
      >
        <a
          className="inline-flex min-h-10 items-center rounded-part border border-line2 px-4 font-semibold text-action"
          href="/api/recipes/file"
          download
        >
          Export
        </a>
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
      {rows.length === 0 ? (
        <Empty title="No recipe yet">
          <p>Press N: one is proposed from a product’s size, weight and nature.</p>
        </Empty>
      ) : (
        <table className="rule-table bg-sheet">
          <caption className="sr-only">Recipes</caption>
          <thead>
            <tr>
              <th scope="col" className="pl-6!">
                Recipe
              </th>
              <th scope="col">Packs</th>
              <th scope="col">Tested</th>
              <th scope="col" className="num pr-6!">
                Version
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, index) => (
              <tr
                key={row.id}
                {...OPENS}
                className={index === at ? "bg-soft" : ""}
                onMouseEnter={() => setAt(index)}
              >
                <td className="pl-6!">
                  <Link
                    className="font-semibold text-action hover:underline"
                    to={`/recipes/${row.id}`}
                  >
                    {row.name}
                  </Link>
                </td>
                <td className="text-ink2">
                  <span className="line-clamp-1">
                    {all
                      .filter((product) => product.recipe_id === row.id)
                      .map((product) => product.name)
                      .join(", ") || "no product yet"}
                  </span>
                </td>
                <td className="whitespace-nowrap">
                  {row.tried ? (
                    <>
                      <Mark kind="done" /> tested
                    </>
                  ) : (
                    <>
                      <Mark kind="mind" /> this version not tested
                    </>
                  )}
                </td>
                <td className="num pr-6!">{row.version}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
