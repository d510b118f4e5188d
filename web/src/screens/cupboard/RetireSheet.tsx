/** Take a supply out of use: who uses it, and what takes its place. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { retireSupply, supplyUses } from "../../api/cupboard";
import { useFormat } from "../../app/session";
import { many } from "../../domain/words";
import { Button, Notice, ProblemNote, Waiting } from "../../ui/parts";
import { Pick } from "../../ui/Pick";
import { Sheet } from "../../ui/Sheet";
import { useToast } from "../../ui/useToast";
import type { Supply } from "./supply";

export function RetireSheet({ supply, onClose }: { supply: Supply; onClose: () => void }) {
  const say = useToast();
  const uses = useQuery(supplyUses(supply.id));
  const retire = useMutation({
    ...retireSupply(),
    onSuccess: () => {
      say(`${supply.name} is retired. Its ledger is kept; bring it back from the retired ones.`);
      onClose();
    },
  });
  return (
    <Sheet open onOpenChange={(open) => !open && onClose()} title={`Retire ${supply.name}`}>
      {uses.isPending ? <Waiting what="who uses it" /> : null}
      <ProblemNote error={uses.error ?? retire.error} />
      {uses.data ? (
        <Uses
          supply={supply}
          uses={uses.data}
          busy={retire.isPending}
          onRetire={(replace_by) => retire.mutate({ id: supply.id, replace_by })}
          onClose={onClose}
        />
      ) : null}
    </Sheet>
  );
}

function Uses({
  supply,
  uses,
  busy,
  onRetire,
  onClose,
}: {
  supply: Supply;
  uses: Schemas["SupplyUsesOut"];
  busy: boolean;
  onRetire: (replaceBy: number | null) => void;
  onClose: () => void;
}) {
  const format = useFormat();
  const [instead, setInstead] = useState(uses.replacements[0]?.id ?? 0);
  const named = uses.recipe_count > 0;
  return (
    <>
      <p>
        No plan will use it any more.{" "}
        {Number(uses.on_hand) > 0
          ? `What is on hand, ${format.quantity(uses.on_hand, supply.unit)}, stays on the shelf and in the ledger.`
          : ""}
      </p>
      {named ? (
        <>
          <p className="mt-3">
            <b>{many(uses.recipe_count, "recipe")}</b>:{" "}
            {uses.recipes.map((one) => one.name).join(", ")}
          </p>
          <div className="mt-2 flex items-center gap-3">
            In its place
            <Pick
              label="In its place"
              value={String(instead)}
              options={uses.replacements.map((one) => ({ value: String(one.id), text: one.name }))}
              onPick={(value) => setInstead(Number(value))}
            />
          </div>
          <p className="mt-1 text-small text-ink2">Each of these recipes gets a new version.</p>
        </>
      ) : (
        <p className="mt-3">No recipe uses it.</p>
      )}
      {uses.order_count > 0 ? (
        <p className="mt-3">
          {many(uses.order_count, "open order")} {uses.order_count === 1 ? "is" : "are"} planned
          again: {uses.orders.map((one) => one.name).join("; ")}
        </p>
      ) : null}
      {uses.label ? (
        <div className="mt-3">
          <Notice kind="stop">
            It is the label of every parcel. Choose another one under Settings first.
          </Notice>
        </div>
      ) : null}
      <div className="mt-5 flex gap-2.5">
        <Button
          kind="next"
          disabled={busy || uses.label || (named && uses.replacements.length === 0)}
          onClick={() => onRetire(named ? instead : null)}
        >
          Retire it
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </>
  );
}
