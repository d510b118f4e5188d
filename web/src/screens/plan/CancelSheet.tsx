/** The buyer does not want the order any more. */
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { cancelOrder } from "../../api/orders";
import { type Schemas } from "../../api/client";
import { useToast } from "../../ui/useToast";
import { ReasonSheet } from "../../ui/ReasonSheet";

export function CancelSheet({
  order,
  open,
  onOpenChange,
}: {
  order: Schemas["OrderOut"];
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const say = useToast();
  const navigate = useNavigate();
  const cancel = useMutation({
    ...cancelOrder(),
    onSuccess: () => {
      say(`Order ${order.number} is cancelled.`);
      void navigate("/orders");
    },
  });
  return (
    <ReasonSheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Cancel order ${order.number}`}
      description="Its plan is given up and what it reserved is free again. Under Orders, Cancelled, it can be opened again."
      action="Cancel the order"
      keep="Keep it"
      most={300}
      busy={cancel.isPending}
      error={cancel.error}
      onReason={(reason) => cancel.mutate({ id: order.id, reason })}
    />
  );
}
