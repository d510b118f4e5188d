/** Send-off: is all that leaves labelled right and on the sheet? Parcels are scanned out one by one. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { sendOff } from "../../api/leaving";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { clockWords, momentOf, timeOfDay } from "../../domain/day";
import { many } from "../../domain/words";
import {
  BESIDE,
  Button,
  Empty,
  Field,
  LinkButton,
  Notice,
  ProblemNote,
  ScreenHead,
  Waiting,
} from "../../ui/parts";
import { ScanField } from "../../ui/ScanField";
import { useAwake } from "../../ui/useAwake";
import { useNow } from "../../ui/useNow";
import { Batch } from "./Batch";
import { Printer } from "./Printer";
import { Records } from "./Records";
import { Rows } from "./Rows";
import { keepSound, soundIsOn } from "./sound";
import { useSendOff } from "./useSendOff";
import { handOverWords } from "./verdicts";

export function SendOffScreen() {
  const query = useQuery(sendOff());
  const off = useSendOff(query.data);
  const now_s = useNow(query.data?.now_s, query.dataUpdatedAt);
  const [takenBy, setTakenBy] = useState("");
  useAwake();
  const at = off.at;
  const give = () => {
    off.give(takenBy);
    setTakenBy("");
  };
  const sheet = () => at && window.open(sheetOf(at), "_blank", "noreferrer");
  const keys = {
    u: () => void off.undoLast(),
    p: () => void sheet(),
    o: give,
  };
  useActions([
    { key: "u", label: "Undo the last scan", run: keys.u, off: !off.last },
    { key: "p", label: "Print the sheet", run: keys.p, off: !at },
    { key: "o", label: "Hand over what is counted", run: keys.o, off: !at?.counted },
  ]);
  if (query.isPending) return <Waiting what="the hand-overs" />;
  if (!query.data)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  return (
    <>
      <ScreenHead title={titleOf(at)} under={underOf(at, now_s)}>
        {at ? (
          <>
            <LinkButton href={sheetOf(at)} {...BESIDE}>
              Print the sheet
              <span className="keycap">P</span>
            </LinkButton>
            <Button kind="next" hotkey="O" disabled={at.counted === 0 || off.busy} onClick={give}>
              {at.counted < at.parcels.length && at.counted > 0
                ? `Hand over ${at.counted} of ${at.parcels.length}`
                : "Hand over"}
            </Button>
          </>
        ) : null}
      </ScreenHead>
      <div className="grid grid-cols-[minmax(0,1fr)_340px] border-t border-line max-lg:grid-cols-1">
        <div className="min-w-0 bg-sheet px-6 py-4">
          {at ? (
            <>
              <div className="flex flex-wrap items-end gap-x-5 gap-y-1">
                <ScanField label="Scan or type a parcel" onCode={off.scan} keys={keys} />
                {off.last ? (
                  <span className="pb-3 text-ink2">
                    Last counted <b className="text-ink">{off.last.number}</b>,{" "}
                    <span className="keycap">U</span> undo
                  </span>
                ) : null}
              </div>
              {off.told ? (
                <div className="mt-3">
                  <Notice kind={off.told.good ? "done" : "stop"}>
                    <b>{off.told.title}</b> {off.told.text}
                  </Notice>
                </div>
              ) : null}
              {off.offs.map((one) => (
                <Group
                  key={one.hand_over.key}
                  off={one}
                  here={one.hand_over.key === at.hand_over.key}
                  onPick={() => off.pick(one.hand_over.key)}
                  onUndo={off.undoOne}
                />
              ))}
            </>
          ) : (
            <Empty title="Nothing is waiting to be handed over">
              <p>Parcels stand here once they are closed at the bench.</p>
            </Empty>
          )}
        </div>
        <aside className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t">
          {at ? (
            <Field
              label="Taken over by (name on the sheet)"
              value={takenBy}
              maxLength={80}
              onChange={(event) => setTakenBy(event.target.value)}
            />
          ) : null}
          {at ? <Batch parcels={at.parcels} /> : null}
          <Sound />
          <Printer />
          <Records records={query.data.records} onUndo={off.back} />
          {query.data.nowhere.length > 0 ? (
            <div className="mt-4">
              <Notice kind="mind">
                No hand-over takes {query.data.nowhere.map((one) => one.number).join(", ")}: enter
                one under Hours and hand-overs.
              </Notice>
            </div>
          ) : null}
        </aside>
      </div>
    </>
  );
}

const sheetOf = (off: Schemas["SendOffOut"]): string =>
  `/api/send-off/sheet.pdf?hand_over=${encodeURIComponent(off.hand_over.key)}`;

function titleOf(at: Schemas["SendOffOut"] | null): string {
  if (!at) return "Nothing to hand over";
  return `${at.hand_over.name}: ${at.counted} of ${at.parcels.length} scanned`;
}

/** The day from whose midnight moments are counted. */
function todayOf(one: Schemas["HandOverRef"]): string {
  const date = new Date(`${one.day}T12:00:00Z`);
  date.setUTCDate(date.getUTCDate() - Math.floor(one.at_s / 86_400));
  return date.toISOString().slice(0, 10);
}

function underOf(at: Schemas["SendOffOut"] | null, now_s: number): string {
  if (!at) return `It is ${clockWords(now_s)}.`;
  const ready = at.parcels.filter((one) => one.state === "ready").length;
  const open = at.parcels.filter((one) => one.state === "bench" || one.state === "planned").length;
  return [
    `It is ${clockWords(now_s)}`,
    at.hand_over.at_s < 86_400 && at.hand_over.at_s >= 0
      ? `${at.hand_over.kind === "trip" ? "at the counter by" : "collected at"} ${clockWords(at.hand_over.at_s)}`
      : `leaves ${momentOf(todayOf(at.hand_over), at.hand_over.at_s)}`,
    ready > 0 ? `${many(ready, "parcel")} closed and not scanned` : "",
    open > 0 ? `${open} not packed yet` : "",
  ]
    .filter(Boolean)
    .join("; ");
}

function Group({
  off,
  here,
  onPick,
  onUndo,
}: {
  off: Schemas["SendOffOut"];
  here: boolean;
  onPick: () => void;
  onUndo: (id: number) => void;
}) {
  const format = useFormat();
  const days = Math.floor(off.hand_over.at_s / 86_400);
  return (
    <section className="mt-5">
      <h2
        className={`flex items-baseline gap-3 pb-1.5 text-lead ${here ? "border-b-2 border-action" : "border-b border-line2"}`}
      >
        <button
          type="button"
          aria-pressed={here}
          className={`min-h-11 text-left ${here ? "text-action" : "hover:text-action"}`}
          onClick={onPick}
        >
          {days === 0 ? clockWords(off.hand_over.at_s) : handOverWords(off.hand_over, "")}{" "}
          {days === 0 ? off.hand_over.name : ""}
        </button>
        <span className="font-text text-base font-normal text-ink2">
          {off.hand_over.kind === "trip"
            ? `our own trip, leave by ${timeOfDay(off.due_s)}`
            : "collected here"}
          {off.assumed ? ", time taken from its cut-off" : ""}
        </span>
        <span className="grow" />
        <Squares parcels={off.parcels} />
        <span className="font-text text-base">{format.weight(off.weight_mg)}</span>
      </h2>
      {here ? (
        <Rows parcels={off.parcels} onUndo={onUndo} />
      ) : (
        <p className="flex flex-wrap gap-x-5 gap-y-1 py-2 text-ink2">
          {off.parcels.slice(0, 14).map((one) => (
            <span key={one.key}>
              {one.number} {format.weight(one.weight_mg)}
            </span>
          ))}
          {off.parcels.length > 14 ? <span>and {off.parcels.length - 14} more</span> : null}
          {off.parcels.length === 0 ? <span>nothing for it yet</span> : null}
        </p>
      )}
    </section>
  );
}

/** One square a parcel: filled when scanned, ruled when closed, dashed when not packed. */
function Squares({ parcels }: { parcels: Schemas["SendParcelOut"][] }) {
  const counted = parcels.filter((one) => one.state === "counted").length;
  if (parcels.length === 0) return null;
  if (parcels.length > 24)
    return (
      <span className="font-text text-base">
        {counted} of {parcels.length}
      </span>
    );
  const ordered = [...parcels].sort(
    (one, other) => Number(other.state === "counted") - Number(one.state === "counted"),
  );
  return (
    <span
      role="img"
      aria-label={`${counted} of ${parcels.length} scanned`}
      className="inline-flex gap-1 self-center"
    >
      {ordered.map((one) => (
        <span
          key={one.key}
          className={`size-3.5 border ${one.state === "counted" ? "border-ink bg-ink" : one.state === "ready" ? "border-ink" : "border-dashed border-line2"}`}
        />
      ))}
    </span>
  );
}

function Sound() {
  const [on, setOn] = useState(soundIsOn);
  return (
    <label className="mt-3 flex min-h-11 items-center gap-2.5">
      <input
        type="checkbox"
        className="size-5 accent-action"
        checked={on}
        onChange={(event) => {
          keepSound(event.target.checked);
          setOn(event.target.checked);
        }}
      />
      Sound when a parcel is scanned
    </label>
  );
}
