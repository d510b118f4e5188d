/** A pack that is soft or stays cold is put aside: it leaves the stock, another is taken. */
import { useMutation } from "@tanstack/react-query";
import { spoilSupply } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/parts";
import { useRequestKey } from "../../ui/useRequestKey";
import { useToast } from "../../ui/useToast";

export function SpoilPack({
  parcel,
  step,
}: {
  parcel: Schemas["ParcelOut"];
  step: Schemas["BenchStep"];
}) {
  const say = useToast();
  const [key, renew] = useRequestKey();
  const pack = step.kind === "check" ? step.takes.find((take) => take.role === "pack") : undefined;
  const ref = parcel.supplies.find((one) => one.code === pack?.code);
  const spoil = useMutation({
    ...spoilSupply(),
    onSuccess: (now) => {
      renew();
      say(
        `One ${pack?.name ?? ""} is taken out of the stock: ${Number(now.on_hand)} are left. Take another.`,
      );
    },
    onError: (error) => say(error.message, "stop"),
  });
  if (!pack || !ref) return null;
  return (
    <p className="mt-5">
      <Button
        className="min-h-12 text-bench"
        disabled={spoil.isPending}
        onClick={() =>
          spoil.mutate({
            id: ref.id,
            body: {
              quantity: "1",
              note: `no good, order ${parcel.order.number}`,
              request_key: key,
            },
          })
        }
      >
        One is no good: take another
      </Button>
    </p>
  );
}
