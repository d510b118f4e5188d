/** Set an order aside with a reason. */
import { useMutation } from "@tanstack/react-query";
import { holdOrder } from "../../api/orders";
import { type Schemas } from "../../api/client";
import { useToast } from "../../ui/useToast";
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
  const say = useToast();
  const hold = useMutation({
    ...holdOrder(),
    onSuccess: () => {
      onOpenChange(false);
      say(`Order ${order.number} is held.`);
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
      onReason={(reason) => hold.mutate({ id: order.id, reason })}
    />
  );
}
