/** Supplies out of use: bring one back. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { bringBackSupply } from "../../api/mutations";
import { retiredSupplies } from "../../api/queries";
import { useFormat } from "../../app/session";
import { ProblemNote, Waiting } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";

export function RetiredSheet({ onClose }: { onClose: () => void }) {
  const list = useQuery(retiredSupplies());
  const back = useMutation(bringBackSupply());
  const format = useFormat();
  return (
    <Sheet open onOpenChange={(open) => !open && onClose()} title="Retired supplies">
      {list.isPending ? <Waiting what="the retired supplies" /> : null}
      <ProblemNote error={list.error ?? back.error} />
      {list.data?.results.length === 0 ? <p className="text-ink2">None is retired.</p> : null}
      <ul>
        {(list.data?.results ?? []).map((row) => (
          <li key={row.id} className="flex min-h-11 items-center gap-3 border-t border-line">
            <span className="grow">
              {row.name} <span className="text-ink2">{row.code}</span>
            </span>
            <span className="text-small text-ink2">
              {format.quantity(row.on_hand, row.unit)} on hand
            </span>
            <button
              type="button"
              className="min-h-11 text-action underline"
              disabled={back.isPending}
              onClick={() => back.mutate(row.id)}
            >
              Bring back
            </button>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
