/** The day: can all of today's leave, and when must packing begin? The first screen after signing in. */
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { day as dayQuery } from "../../api/leaving";
import { useActions } from "../../app/keys";
import { clockWords, headline, toPack, under, type DayParcel } from "../../domain/day";
import { dayWords } from "../../domain/words";
import { DayLine } from "../../drawings/DayLine";
import { Button, Notice, ProblemNote, Waiting } from "../../ui/parts";
import { Aside, NextWave, PostList, Prepare } from "./Lists";
import { useNow } from "../../ui/useNow";
import { useOnce } from "../../ui/useOnce";
import { Ways } from "./Ways";

/** Fetched when a parcel is moved for the first time. */
const MoveSheet = lazy(async () => ({ default: (await import("./MoveSheet")).MoveSheet }));

/** Fetched when the weather concerns an order. */
const Weather = lazy(() => import("./Weather"));

/** Whether the weather, or the air, is to be minded today. */
const concerned = (day: Schemas["DayOut"] | undefined) =>
  day !== undefined && (day.weather > 0 || day.forecast_silent || day.damp.length > 0);

export function DayScreen() {
  const query = useQuery(dayQuery());
  const navigate = useNavigate();
  const now_s = useNow(query.data?.now_s, query.dataUpdatedAt);
  const [picked, setPicked] = useState<string | null>(null);
  const [moving, setMoving] = useState<{ key: string; post: string } | null>(null);
  const day = query.data;
  const weather = useOnce(concerned(day));
  const order = day ? toPack(day) : [];
  const at = order.some((one) => one.key === picked) ? picked : (order[0]?.key ?? null);
  const index = order.findIndex((one) => one.key === at);
  const here = order[index];
  const wave = day?.wave ?? null;
  const gather = () => wave && void navigate(`/gather?parcels=${wave.parcels.join(",")}`);
  const open = () => {
    if (here) void navigate(here.parcel_id ? `/bench/${here.parcel_id}` : `/plan/${here.order_id}`);
  };
  useActions([
    { key: "g", label: "Gather the next wave", run: gather, off: !wave },
    {
      key: "arrowright",
      label: "Next parcel",
      run: () => setPicked(order[Math.min(index + 1, order.length - 1)]?.key ?? null),
    },
    {
      key: "arrowleft",
      label: "Parcel before",
      run: () => setPicked(order[Math.max(index - 1, 0)]?.key ?? null),
    },
    {
      key: "m",
      label: "Move the parcel to another hand-over or day",
      run: () => at && setMoving({ key: at, post: "" }),
      off: !here || here.state !== "planned",
    },
    { key: "enter", label: "Open the parcel", run: open, off: !here },
    { key: "s", label: "What is set aside", run: () => void navigate("/holds") },
    { key: "p", label: "What to prepare", run: () => void navigate("/prepare") },
    { key: "h", label: "Hours and hand-overs", run: () => void navigate("/times") },
  ]);
  if (query.isPending) return <Waiting what="the day" />;
  if (!day)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const moved = order.find((one) => one.key === moving?.key);
  return (
    <>
      <header className="flex items-end justify-between gap-x-6 gap-y-3 px-6 pb-3 pt-4 max-lg:flex-wrap">
        <div className="min-w-0 grow">
          <h1 className="text-[34px] leading-tight max-lg:text-[28px]">{headline(day, now_s)}</h1>
          <p className="mt-0.5 text-ink2">
            {day.is_today
              ? `${dayWords(day.day)}, ${clockWords(now_s)}. `
              : `${dayWords(day.day)}, looked at ahead: today's work is done. `}
            {under(day)}
          </p>
        </div>
        <div className="flex shrink-0 flex-wrap gap-2.5">
          <Button hotkey="H" onClick={() => void navigate("/times")}>
            Hours and hand-overs
          </Button>
          <Button kind="next" hotkey="G" disabled={!wave} onClick={gather}>
            {wave ? "Gather the next wave" : "No wave waits"}
          </Button>
        </div>
      </header>
      {query.isError ? (
        <Notice kind="mind">
          The server does not answer; this is the day as it was {clockWords(day.now_s)}.
        </Notice>
      ) : null}
      <Ways day={day} onMove={(key) => setMoving({ key, post: "" })} />
      {day.hours_assumed ? (
        <Notice kind="mind">
          Nobody entered who packs when: one person from 9:00 to 17:00 is assumed. Press H to change
          that.
        </Notice>
      ) : null}
      <Suspense>{weather ? <Weather day={day} /> : null}</Suspense>
      <section className="border-y border-line bg-sheet py-3" aria-label="The line of the day">
        <DayLine
          day={day}
          now_s={now_s}
          at={at}
          onPick={setPicked}
          onDrop={(key, post) => setMoving({ key, post })}
        />
        {here ? (
          <Chosen
            parcel={here}
            onOpen={open}
            onMove={() => setMoving({ key: here.key, post: "" })}
          />
        ) : null}
      </section>
      <div className="grid grid-cols-4 gap-x-8 gap-y-5 px-6 py-4 max-lg:grid-cols-2">
        <PostList day={day} />
        <Aside day={day} />
        <Prepare day={day} />
        <NextWave day={day} />
      </div>
      {moving && moved && moved.state === "planned" ? (
        <Suspense>
          <MoveSheet
            orderId={moved.order_id}
            number={moved.number}
            wanted={moving.post}
            onClose={() => setMoving(null)}
          />
        </Suspense>
      ) : null}
    </>
  );
}

/** The parcel that is chosen on the line, in words. */
function Chosen({
  parcel,
  onOpen,
  onMove,
}: {
  parcel: DayParcel;
  onOpen: () => void;
  onMove: () => void;
}) {
  return (
    <p className="flex flex-wrap items-center gap-x-4 px-6 pt-1" aria-live="polite">
      <span>
        <b>{parcel.number}</b>
        {parcel.parts > 1 ? `, ${parcel.part} of ${parcel.parts}` : ""}, {parcel.buyer},{" "}
        {parcel.container}, {parcel.service_name}
      </span>
      <span className="text-ink2">
        {parcel.start_s === null
          ? "not in the order of packing"
          : `${clockWords(parcel.start_s)} to ${clockWords(parcel.end_s ?? 0)}`}
        {parcel.in_row ? ", like the one before it" : ""}
        {parcel.chosen ? ", moved by hand" : ""}
      </span>
      <span className="grow" />
      <Button kind="quiet" hotkey="↵" onClick={onOpen}>
        Open
      </Button>
      <Button kind="quiet" hotkey="M" disabled={parcel.state !== "planned"} onClick={onMove}>
        Move
      </Button>
    </p>
  );
}
