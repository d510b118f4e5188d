/** Making an order of what is on the list: when it is expected, a note; then its papers. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { orderFromSupplier } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { many } from "../../domain/words";
import { useRequestKey } from "../../ui/useRequestKey";
import { BESIDE, Button, Field, LinkButton } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";

interface Props {
  order: Schemas["BuyOrderOut"];
  onClose: () => void;
  onOrdered: () => void;
}

export function OrderSheet({ order, onClose, onOrdered }: Props) {
  const format = useFormat();
  const [expected, setExpected] = useState(order.arrives_on);
  const [note, setNote] = useState("");
  const [key] = useRequestKey();
  const make = useMutation({ ...orderFromSupplier(), onSuccess: onOrdered });
  return (
    <Sheet
      open
      onOpenChange={(now) => !now && onClose()}
      title={
        make.data
          ? `Order P-${make.data.number} is saved`
          : `${many(order.lines.length, "line")} from ${order.supplier}, ${format.money(order.total)}`
      }
      wide
    >
      {make.data ? (
        <Made purchase={make.data} onClose={onClose} />
      ) : (
        <form
          className="flex flex-col gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate({
              supplier_id: order.supplier_id,
              lines: order.lines.map((line) => ({
                supply_id: line.supply_id,
                quantity: line.quantity,
                price: line.each,
              })),
              delivery: order.delivery_cost,
              expected_on: expected,
              note,
              request_key: key,
            });
          }}
        >
          <p className="text-ink2">
            Send it to {order.contact || order.supplier} yourself: on paper, as a file, or as a text
            for a mail. Here it counts as on its way from now on.
          </p>
          <Field
            label="Expected on"
            type="date"
            required
            value={expected}
            onChange={(event) => setExpected(event.target.value)}
          />
          <Field
            label="Note for the supplier"
            maxLength={200}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
          <SheetFoot
            error={make.error}
            action="Save as ordered"
            off={make.isPending}
            onCancel={onClose}
          />
        </form>
      )}
    </Sheet>
  );
}

function Made({ purchase, onClose }: { purchase: Schemas["PurchaseOut"]; onClose: () => void }) {
  const say = useToast();
  return (
    <div className="flex flex-col gap-4">
      <pre className="max-h-72 overflow-auto whitespace-pre-wrap border border-line bg-ground p-3 font-text">
        {purchase.text}
      </pre>
      <div className="flex flex-wrap gap-3">
        <Button
          onClick={() =>
            void navigator.clipboard
              .writeText(purchase.text)
              .then(() => say("The text is copied."))
              .catch(() => say("It could not be copied here: mark the text and copy it.", "stop"))
          }
        >
          Copy the text
        </Button>
        <LinkButton href={`/api/purchases/${purchase.id}/order.pdf`} {...BESIDE}>
          On paper
        </LinkButton>
        <LinkButton href={`/api/purchases/${purchase.id}/order.csv`}>As CSV</LinkButton>
        <Button kind="next" onClick={onClose}>
          Done
        </Button>
      </div>
    </div>
  );
}
