/** Hold from the bench: the parcel is undone, the order set aside with the reason. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { Sheet, useToast } from "../../ui/overlays";
import { Button, Field, ProblemNote } from "../../ui/parts";

export function HoldParcel({
  parcel,
  open,
  onOpenChange,
}: {
  parcel: Schemas["ParcelOut"];
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const [words, setWords] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const say = useToast();
  const hold = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/parcels/{parcel_id}/hold", {
          params: { path: { parcel_id: parcel.id } },
          body: { words },
        }),
      ),
    onSuccess: (order) => {
      say(`Order ${order.number} is held and off the bench.`);
      void client.invalidateQueries();
      void navigate("/bench");
    },
  });
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Hold order ${parcel.order.number}`}
      description="It comes off the bench. No stock was used yet."
    >
      <form
        className="flex flex-col gap-4 text-lead"
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
          maxLength={160}
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <ProblemNote error={hold.error} />
        <div className="flex gap-3">
          <Button type="submit" kind="next" className="min-h-12" disabled={hold.isPending}>
            Hold it
          </Button>
          <Button className="min-h-12" onClick={() => onOpenChange(false)}>
            Cancel
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
