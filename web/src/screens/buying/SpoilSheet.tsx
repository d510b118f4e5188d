/** Taking out what is spoiled, torn or lost. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { spoilSupply } from "../../api/buying";
import { useFormat } from "../../app/session";
import { useRequestKey } from "../../ui/useRequestKey";
import { Field } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import type { Supply } from "../cupboard/supply";

export function SpoilSheet({ supply, onClose }: { supply: Supply; onClose: () => void }) {
  const format = useFormat();
  const say = useToast();
  const [quantity, setQuantity] = useState("");
  const [note, setNote] = useState("");
  const [key] = useRequestKey();
  const spoil = useMutation({
    ...spoilSupply(),
    onSuccess: (now) => {
      say(`${supply.name}: ${format.quantity(now.on_hand, supply.unit)} on hand now.`);
      onClose();
    },
  });
  return (
    <Sheet
      open
      onOpenChange={(now) => !now && onClose()}
      title={`${supply.name}: what is spoiled?`}
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          spoil.mutate({
            id: supply.id,
            body: { quantity: format.toStock(quantity, supply.unit), note, request_key: key },
          });
        }}
      >
        <Field
          label={`Amount, of ${format.quantity(supply.on_hand, supply.unit)}`}
          inputMode="decimal"
          autoFocus
          required
          unit={format.stockUnit(supply.unit)}
          value={quantity}
          onChange={(event) => setQuantity(event.target.value)}
        />
        <Field
          label="What happened"
          maxLength={120}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
        <SheetFoot
          error={spoil.error}
          action="Take it out"
          off={spoil.isPending}
          onCancel={onClose}
        />
      </form>
    </Sheet>
  );
}
