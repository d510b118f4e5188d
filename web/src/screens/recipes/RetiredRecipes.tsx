/** Recipes that are not used any more. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { retireRecipe, retiredRecipes } from "../../api/recipes";
import { RetiredSheet } from "../../ui/RetiredSheet";

export function RetiredRecipes({ onClose }: { onClose: () => void }) {
  const list = useQuery(retiredRecipes());
  const back = useMutation(retireRecipe());
  return (
    <RetiredSheet
      title="Retired recipes"
      rows={list.data?.results.map((row) => ({
        id: row.id,
        name: row.name,
        detail: `version ${row.version}`,
      }))}
      error={list.error ?? back.error}
      busy={back.isPending}
      onBack={(id) => back.mutate({ id, retired: false })}
      onClose={onClose}
    />
  );
}
