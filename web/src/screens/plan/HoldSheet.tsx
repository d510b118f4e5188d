/** Set an order aside with a reason. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Schemas } from "../../api/client";
import { useToast } from "../../ui/overlays";
import { ReasonSheet } from "../../ui/ReasonSheet";

export function HoldSheet({
  order,
  open,
  onOpenChange,
}: {
  order: Schemas["OrderOut"];
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const client = useQueryClient();
  const say = useToast();
  const hold = useMutation({
    mutationFn: (words: string) =>
      answer(
        api.POST("/api/orders/{order_id}/hold", {
          params: { path: { order_id: order.id } },
          body: { reason: words },
        }),
      ),
    onSuccess: () => {
      onOpenChange(false);
      say(`Order ${order.number} is held.`);
      void client.invalidateQueries();
    },
  });
  return (
    <ReasonSheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Hold order ${order.number}`}
      description="It is not packed until somebody releases it."
      action="Hold it"
      most={300}
      busy={hold.isPending}
      error={hold.error}
      onReason={(words) => hold.mutate(words)}
    />
  );
}
