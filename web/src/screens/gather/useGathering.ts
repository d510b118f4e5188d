/** Gathering a wave: what is ticked, what a scan is, what is not there, and on to the bench. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { beginWave, gatherMissing } from "../../api/leaving";
import { useActions } from "../../app/keys";
import { useAwake } from "../../ui/useAwake";
import { useToast } from "../../ui/useToast";
import { forgetTicks, savedTicks, saveTicks, scanned } from "./ticks";

type Wave = Schemas["GatherOut"];

export function useGathering(keys: string, wave: Wave) {
  const navigate = useNavigate();
  const say = useToast();
  const [ticks, setTicks] = useState(() => savedTicks(keys));
  useAwake();
  const things = [...wave.goods, ...wave.containers, ...wave.supplies, ...wave.cards];
  const codes = [...things.map((one) => one.code), ...wave.rolls.map((one) => `cut ${one.code}`)];
  const open = codes.filter((code) => !ticks.has(code));
  const spots = new Map(wave.parcels.map((one, index) => [one.key, index + 1]));
  const set = (next: ReadonlySet<string>) => {
    setTicks(next);
    saveTicks(keys, next);
  };
  const tick = (code: string) => {
    const next = new Set(ticks);
    if (!next.delete(code)) next.add(code);
    set(next);
  };
  const begin = useMutation({
    ...beginWave(),
    onSuccess: ({ parcel_ids, refused }) => {
      for (const one of refused) say(one.reason.join(" "), "stop");
      forgetTicks(keys);
      void navigate(
        parcel_ids.length > 1
          ? `/bench/wave?parcels=${parcel_ids.join(",")}`
          : parcel_ids[0]
            ? `/bench/${parcel_ids[0]}`
            : "/bench",
      );
    },
    onError: (error) => say(error.message, "stop"),
  });
  const missing = useMutation({
    ...gatherMissing(),
    onSuccess: (_, { order_id }) => {
      const gone = wave.parcels.filter((one) => one.order_id === order_id).map((one) => one.key);
      const rest = wave.parcels.map((one) => one.key).filter((one) => !gone.includes(one));
      say("That order is held; the rest of the wave goes on.");
      void navigate(rest.length > 0 ? `/gather?parcels=${rest.join(",")}` : "/day", {
        replace: true,
      });
    },
    onError: (error) => say(error.message, "stop"),
  });
  const orders = [...new Set(wave.parcels.map((one) => one.order_id))];
  const start = () => begin.mutate(orders);
  const scan = (code: string) => {
    const found = scanned(code, things);
    if (!found) return say(`${code} is not on this list.`, "stop");
    if (ticks.has(found.code)) return say(`${found.name} is on the table already.`);
    tick(found.code);
    return undefined;
  };
  useActions([
    { key: "enter", label: "To the bench", run: start, off: open.length > 0 },
    { key: "b", label: "To the bench, also with things open", run: start },
    {
      key: "a",
      label: "Tick everything",
      run: () => set(new Set(codes)),
      off: open.length === 0,
    },
  ]);
  return { ticks, open, spots, busy: begin.isPending, tick, start, scan, missing: missing.mutate };
}
