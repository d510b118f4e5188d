/** A first recipe proposed: each line with its reason, taken whole, in part, or not. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { products } from "../../api/recipes";
import { useActions } from "../../app/keys";
import { Combo } from "../../ui/Combo";
import { Proposed } from "./Proposed";
import { Button, Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";

export function NewRecipeScreen() {
  const goods = useQuery(products());
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const [choosing, setChoosing] = useState(true);
  useActions([
    { key: "escape", label: "Back to all recipes", run: () => void navigate("/recipes") },
  ]);
  if (goods.isPending) return <Waiting what="your products" />;
  if (goods.isError)
    return (
      <div className="p-6">
        <ProblemNote error={goods.error} />
      </div>
    );
  const fit = goods.data.results.filter((one) => one.contents.length === 0);
  const product = fit.find((one) => String(one.id) === params.get("product"));
  if (fit.length === 0)
    return (
      <Empty title="No product yet">
        <p>Enter a product with its size and weight first.</p>
        <p className="mt-3">
          <Button kind="next" onClick={() => void navigate("/products?new=1")}>
            New product
          </Button>
        </p>
      </Empty>
    );
  if (product) return <Proposed key={product.id} product={product} />;
  return (
    <>
      <ScreenHead title="Which product is it for?" under="Those without a recipe stand first" />
      <div className="min-h-96 max-w-xl px-6">
        {choosing ? (
          <Combo
            label="Product"
            value=""
            placeholder="Part of its name or sku"
            onClose={() => setChoosing(false)}
            onPick={({ value: id }) => setParams({ product: id })}
            options={[...fit]
              .sort((a, b) => Number(a.recipe_id !== null) - Number(b.recipe_id !== null))
              .map((one) => ({
                value: String(one.id),
                text: `${one.name}, ${one.sku}${one.recipe_name ? `, has ${one.recipe_name}` : ""}`,
              }))}
          />
        ) : (
          <Button onClick={() => setChoosing(true)}>Choose a product</Button>
        )}
      </div>
    </>
  );
}
