/** Hold from the bench: the parcel is undone, the order set aside with the reason. */
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { holdParcel } from "../../api/mutations";
import { type Schemas } from "../../api/client";
import { useToast } from "../../ui/useToast";
import { ReasonSheet } from "../../ui/ReasonSheet";

export function HoldParcel({
  parcel,
  open,
  onOpenChange,
}: {
  parcel: Schemas["ParcelOut"];
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const navigate = useNavigate();
  const say = useToast();
  const hold = useMutation({
    ...holdParcel(),
    onSuccess: (order) => {
      say(`Order ${order.number} is held and off the bench.`);
      void navigate("/bench");
    },
  });
  return (
    <ReasonSheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Hold order ${parcel.order.number}`}
      description="It comes off the bench. No stock was used yet."
      action="Hold it"
      most={160}
      busy={hold.isPending}
      error={hold.error}
      onReason={(words) => hold.mutate({ id: parcel.id, words })}
    />
  );
}
