/** All labels of a hand-over's closed parcels in one go. */
import { useMutation } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { printLabels } from "../../api/leaving";
import { many } from "../../domain/words";
import { Button } from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import { printedWords } from "./printing";

export function Batch({ parcels }: { parcels: Schemas["SendParcelOut"][] }) {
  const say = useToast();
  const ids = parcels.flatMap((one) =>
    one.state === "ready" && one.parcel_id !== null ? [one.parcel_id] : [],
  );
  const print = useMutation({
    ...printLabels(),
    onSuccess: (now) => say(printedWords(now, ids.length), now.waiting > 0 ? "stop" : "done"),
    onError: (error) => say(error.message, "stop"),
  });
  if (ids.length === 0) return null;
  return (
    <Button className="mt-3" disabled={print.isPending} onClick={() => print.mutate(ids)}>
      Print {many(ids.length, "label")}
    </Button>
  );
}
