/** Minutes since the frozen goods came out of the freezer, against what they stand; kept on this device. */
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { Mark } from "../../ui/parts";
import { minutesOut } from "./outside";

const key = (parcel: number) => `out-${parcel}`;

export function OutClock({ parcel, at }: { parcel: Schemas["ParcelOut"]; at: number }) {
  const index = parcel.steps.findIndex((step) => step.limit_minutes !== null);
  const limit = parcel.steps[index]?.limit_minutes ?? null;
  const closed = parcel.steps.findIndex((step) => step.kind === "close");
  const out = limit !== null && at > index && (closed < 0 || at <= closed);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!out) {
      if (at <= index) window.localStorage.removeItem(key(parcel.id));
      return undefined;
    }
    if (!window.localStorage.getItem(key(parcel.id)))
      window.localStorage.setItem(key(parcel.id), String(Date.now()));
    const timer = window.setInterval(() => setNow(Date.now()), 5_000);
    return () => window.clearInterval(timer);
  }, [out, at, index, parcel.id]);
  if (!out) return null;
  const since = Number(window.localStorage.getItem(key(parcel.id)) ?? now);
  const { minutes, over } = minutesOut(since, now, limit);
  return (
    <p
      role="timer"
      className={`mt-1 flex w-full items-center gap-2.5 border-l-4 px-4 py-2 text-bench ${over ? "border-stop bg-stop-soft" : "border-mind bg-mind-soft"}`}
    >
      <Mark kind={over ? "stop" : "mind"} />
      {over
        ? `Out of the freezer for ${minutes} minutes, ${limit} is the most: put the goods back and begin again.`
        : `Out of the freezer for ${minutes} of ${limit} minutes.`}
    </p>
  );
}
