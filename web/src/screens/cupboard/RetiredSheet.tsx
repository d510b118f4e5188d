/** Supplies out of use. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { bringBackSupply, retiredSupplies } from "../../api/cupboard";
import { useFormat } from "../../app/session";
import { RetiredSheet } from "../../ui/RetiredSheet";

export function RetiredSupplies({ onClose }: { onClose: () => void }) {
  const list = useQuery(retiredSupplies());
  const back = useMutation(bringBackSupply());
  const format = useFormat();
  return (
    <RetiredSheet
      title="Retired supplies"
      rows={list.data?.results.map((row) => ({
        id: row.id,
        name: `${row.name}, ${row.code}`,
        detail: `${format.quantity(row.on_hand, row.unit)} on hand`,
      }))}
      error={list.error ?? back.error}
      busy={back.isPending}
      onBack={(id) => back.mutate(id)}
      onClose={onClose}
    />
  );
}
