/** Recipes: how each product is packed, and which products nobody has written one for. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { products, recipes } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";

export function RecipesScreen() {
  const list = useQuery(recipes());
  const goods = useQuery(products());
  const format = useFormat();
  const navigate = useNavigate();
  const [at, setAt] = useState(0);
  const rows = list.data?.results ?? [];
  useActions([
    { key: "arrowdown", label: "Next recipe", run: () => setAt((n) => Math.min(n + 1, rows.length - 1)) },
    { key: "arrowup", label: "Recipe before", run: () => setAt((n) => Math.max(n - 1, 0)) },
    { key: "enter", label: "Open the recipe", run: () => { const row = rows[at]; if (row) void navigate(`/recipes/${row.id}`); } },
  ]);
  if (list.isPending || goods.isPending) return <Waiting what="the recipes" />;
  if (list.isError) return <div className="p-6"><ProblemNote error={list.error} /></div>;
  if (rows.length === 0) return <Empty title="No recipe yet"><p>Take in a recipe file: ./calm import recipe FILE. What stands in it is in docs/formats/recipe.md.</p></Empty>;
  const all = goods.data?.results ?? [];
  const lacking = all.filter((product) => product.recipe_id === null || product.length_um === null || product.weight_mg === null);
  return (
    <>
      <ScreenHead title={`${rows.length} recipes pack ${all.length - lacking.length} products`} under={lacking.length > 0 ? `${lacking.length} products lack something` : "Every product can be packed"} />
      <div className="grid grid-cols-[minmax(0,1fr)_380px] bg-sheet max-lg:grid-cols-1">
        <table className="rule-table">
          <caption className="sr-only">Recipes</caption>
          <thead><tr><th scope="col" className="pl-6!">Recipe</th><th scope="col">Packs</th><th scope="col" className="num pr-6!">Version</th></tr></thead>
          <tbody>
            {rows.map((row, index) => (
              <tr key={row.id} className={index === at ? "bg-soft" : ""} onMouseEnter={() => setAt(index)}>
                <td className="pl-6!"><Link className="font-semibold text-action hover:underline" to={`/recipes/${row.id}`}>{row.name}</Link></td>
                <td className="text-ink2">{all.filter((product) => product.recipe_id === row.id).map((product) => product.name).join(", ") || "no product yet"}</td>
                <td className="num pr-6!">{row.version}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <aside className="border-l border-line px-6 py-5 max-lg:border-l-0 max-lg:border-t">
          <h2 className="text-lead">Cannot be planned yet</h2>
          {lacking.length === 0 ? <p className="mt-2 text-ink2">No product lacks anything.</p> : null}
          <ul className="mt-2">
            {lacking.map((product) => (
              <li key={product.id} className="flex gap-3 border-t border-line py-2"><Mark kind="stop" /><span><b>{product.name}</b><span className="block text-ink2">{[product.recipe_id === null ? "no recipe" : "", product.length_um === null ? "no size" : "", product.weight_mg === null ? "no weight" : format.weight(product.weight_mg)].filter(Boolean).join(", ")}</span></span></li>
            ))}
          </ul>
        </aside>
      </div>
    </>
  );
}
