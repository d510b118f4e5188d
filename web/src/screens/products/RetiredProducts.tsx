/** Products that are not sold any more. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { retireProduct, retiredProducts } from "../../api/recipes";
import { RetiredSheet } from "../../ui/RetiredSheet";

export function RetiredProducts({ onClose }: { onClose: () => void }) {
  const list = useQuery(retiredProducts());
  const back = useMutation(retireProduct());
  return (
    <RetiredSheet
      title="Retired products"
      rows={list.data?.results.map((row) => ({ id: row.id, name: row.name, detail: row.sku }))}
      error={list.error ?? back.error}
      busy={back.isPending}
      onBack={(id) => back.mutate({ id, retired: false })}
      onClose={onClose}
    />
  );
}
