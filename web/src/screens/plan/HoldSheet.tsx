/** Set an order aside with a reason. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { Sheet, useToast } from "../../ui/overlays";
import { Button, Field, ProblemNote } from "../../ui/parts";

export function HoldSheet({
  order,
  open,
  onOpenChange,
}: {
  order: Schemas["OrderOut"];
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const [reason, setReason] = useState("");
  const client = useQueryClient();
  const say = useToast();
  const hold = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/orders/{order_id}/hold", {
          params: { path: { order_id: order.id } },
          body: { reason },
        }),
      ),
    onSuccess: () => {
      onOpenChange(false);
      say(`Order ${order.number} is held.`);
      void client.invalidateQueries();
    },
  });
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Hold order ${order.number}`}
      description="It is not packed until somebody releases it."
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          hold.mutate();
        }}
      >
        <Field
          label="Why"
          autoFocus
          required
          minLength={3}
          maxLength={300}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <ProblemNote error={hold.error} />
        <div className="flex gap-3">
          <Button type="submit" kind="next" disabled={hold.isPending}>
            Hold it
          </Button>
          <Button onClick={() => onOpenChange(false)}>Cancel</Button>
        </div>
      </form>
    </Sheet>
  );
}
