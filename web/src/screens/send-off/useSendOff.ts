/** Sending off: which hand-over is scanned for, what the last scan came to, and what is done with it. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { handOver, scanParcel, undoHandOver, undoScan } from "../../api/leaving";
import { useRequestKey } from "../../ui/useRequestKey";
import { useToast } from "../../ui/useToast";
import { play } from "./sound";
import { tellScan, type Told } from "./verdicts";

export function useSendOff(data: Schemas["SendOffsOut"] | undefined) {
  const say = useToast();
  const [key, setKey] = useState<string | null>(null);
  const [told, setTold] = useState<Told | null>(null);
  const [requestKey, renew] = useRequestKey();
  const offs = data?.send_offs ?? [];
  const at = offs.find((one) => one.hand_over.key === key) ?? offs[0] ?? null;
  const scan = useMutation({
    ...scanParcel(),
    onSuccess: (found) => {
      if (!at) return;
      const next = tellScan(found, at.hand_over);
      setTold(next);
      play(next.good);
    },
    onError: (error) => {
      setTold({ good: false, title: error.message, text: "" });
      play(false);
    },
  });
  const takeOff = useMutation({
    ...undoScan(),
    onSuccess: () => {
      setTold(null);
      say("It is off the count.");
    },
    onError: (error) => say(error.message, "stop"),
  });
  const give = useMutation({
    ...handOver(),
    onSuccess: () => {
      renew();
      setTold(null);
      setKey(null);
      say("The hand-over is recorded. It can be undone within the hour.");
    },
    onError: (error) => say(error.message, "stop"),
  });
  const back = useMutation({
    ...undoHandOver(),
    onSuccess: () => say("The hand-over was undone: its parcels are counted, not handed over."),
    onError: (error) => say(error.message, "stop"),
  });
  const last = at?.parcels
    .filter((one) => one.state === "counted")
    .sort((one, other) => other.scan - one.scan)[0];
  return {
    at,
    offs,
    told,
    last,
    busy: scan.isPending || give.isPending,
    pick: (next: string) => {
      setKey(next);
      setTold(null);
    },
    scan: (code: string) => at && scan.mutate({ hand_over: at.hand_over.key, code }),
    undoLast: () => last?.parcel_id && takeOff.mutate(last.parcel_id),
    undoOne: (parcel_id: number) => takeOff.mutate(parcel_id),
    give: (taken_by: string) =>
      at && give.mutate({ hand_over: at.hand_over.key, taken_by, request_key: requestKey }),
    back: (id: number) => back.mutate(id),
  };
}
