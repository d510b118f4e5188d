/** The bench's logic without its looks: which step, what is ticked, what each key does next. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { parcelAct, saveProgress } from "../../api/bench";
import { answer, api, ProblemError, type Schemas } from "../../api/client";
import { useToast } from "../../ui/useToast";
import { openSteps } from "./next";
import { forgetSpent, keepSpent, savedSpent, withPassed, type Spent } from "./spent";

type Parcel = Schemas["ParcelOut"];

export interface Bench {
  parcel: Parcel;
  at: number;
  ticks: number;
  busy: boolean;
  /** The connection is gone: steps are kept on this device, and sent when it is back. */
  offline: boolean;
  error: unknown;
  next: () => void;
  back: () => void;
  tick: (unit: number) => void;
  /** Go to the step of a kind; ``skipped`` are steps before it that are not done and stay open. */
  jump: (kind: Schemas["BenchStep"]["kind"], skipped?: readonly number[]) => void;
  skipped: readonly number[];
  openBefore: (kind: Schemas["BenchStep"]["kind"]) => readonly number[];
  goTo: (step: number) => void;
  weigh: (typed: string | null, shownUnit?: WeightUnit, onTaken?: () => void) => void;
  settle: (words: string) => void;
  buy: (service: string, agreed?: string) => void;
  giveBack: () => void;
  track: () => void;
  /** What a person agreed the carrier will charge for a weight that is not the label's. */
  agreed: string | null;
  agree: (charge: string) => void;
  close: () => void;
  /** Write down what the carrier said of a label whose answer never came. */
  record: (told: Schemas["RecordIn"]) => void;
  reopen: (words: string) => void;
}

type WeightUnit = "g" | "kg" | "oz" | "lb";

interface Progress {
  step: number;
  ticked: Record<string, number>;
  skipped: number[];
  spent: Spent;
}

/** What could not be sent is tried again this often. */
const AGAIN_MS = 4_000;

/** Steps the server has not confirmed yet stay on this device: a reload or a dead connection loses none. */
const unsent = {
  key: (id: number) => `bench-unsent-${id}`,
  get: (id: number): Progress | null => {
    const text = window.localStorage.getItem(unsent.key(id));
    if (!text) return null;
    const kept = JSON.parse(text) as Omit<Progress, "spent"> & { spent?: Spent };
    return { ...kept, spent: kept.spent ?? {} };
  },
  put: (id: number, progress: Progress) =>
    window.localStorage.setItem(unsent.key(id), JSON.stringify(progress)),
  clear: (id: number, sent: Progress) => {
    if (window.localStorage.getItem(unsent.key(id)) === JSON.stringify(sent))
      window.localStorage.removeItem(unsent.key(id));
  },
};

/** The server did not answer at all: nothing is wrong with what was sent. */
const isGone = (error: unknown): boolean =>
  error instanceof ProblemError && error.problem.code === "no_answer";

export function useBench(parcel: Parcel): Bench {
  const say = useToast();
  const [left] = useState(() => (parcel.state === "packing" ? unsent.get(parcel.id) : null));
  const [at, setAt] = useState(Math.min(left?.step ?? parcel.step, parcel.steps.length - 1));
  const [ticked, setTicked] = useState<Record<string, number>>(left?.ticked ?? parcel.ticked);
  const [skipped, setSkipped] = useState<readonly number[]>(left?.skipped ?? parcel.skipped);
  const [agreed, setAgreed] = useState<string | null>(null);
  const closeKey = useRef(crypto.randomUUID());
  const times = useRef<{ spent: Spent; since: number }>({ spent: {}, since: 0 });
  useEffect(() => {
    times.current = { spent: savedSpent(parcel.id), since: Date.now() };
  }, [parcel.id]);
  const path = { params: { path: { parcel_id: parcel.id } } };

  const progress = useMutation({
    ...saveProgress(parcel.id),
    scope: { id: `progress-${parcel.id}` }, // one after the other, in order
    retry: 3,
    onSuccess: (_, sent) => unsent.clear(parcel.id, sent),
    onError: (error) => {
      if (!isGone(error)) say(`The step is kept on this device only: ${error.message}`, "stop");
    },
  });
  const offline = progress.isPaused || isGone(progress.error ?? progress.failureReason);
  const send = progress.mutate;
  useEffect(() => {
    if (left) send(left);
  }, [left, send]);
  useEffect(() => {
    if (!isGone(progress.error)) return undefined;
    const again = () => {
      const kept = unsent.get(parcel.id);
      if (kept) send(kept);
    };
    const timer = window.setTimeout(again, AGAIN_MS);
    window.addEventListener("online", again);
    return () => {
      window.clearTimeout(timer);
      window.removeEventListener("online", again);
    };
  }, [progress.error, progress.submittedAt, parcel.id, send]);
  const act = useMutation(parcelAct(parcel.id));
  const run = (job: () => Promise<Parcel>, onDone?: () => void) => {
    if (!act.isPending) act.mutate(job, { onSuccess: onDone });
  };

  const step = parcel.steps[at];
  const ticks = ticked[String(at)] ?? 0;
  const remember = (
    nextAt: number,
    nextTicked: Record<string, number>,
    nextSkipped: readonly number[] = skipped,
  ) => {
    setAt(nextAt);
    setTicked(nextTicked);
    setSkipped(nextSkipped);
    act.reset();
    if (parcel.state !== "packing") return;
    const clock = Date.now();
    times.current = {
      spent: withPassed(times.current.spent, at, times.current.since, clock),
      since: clock,
    };
    keepSpent(parcel.id, times.current.spent);
    const now = {
      step: nextAt,
      ticked: nextTicked,
      skipped: [...nextSkipped],
      spent: times.current.spent,
    };
    unsent.put(parcel.id, now);
    progress.mutate(now);
  };
  return {
    parcel,
    at,
    ticks,
    busy: act.isPending,
    offline,
    error: act.error,
    next: () => {
      if (step && ticks < step.tick_units) remember(at, { ...ticked, [at]: ticks + 1 });
      else if (at < parcel.steps.length - 1)
        remember(
          at + 1,
          ticked,
          skipped.filter((one) => one !== at),
        );
    },
    back: () => {
      if (ticks > 0 && step && step.tick_units > 0) remember(at, { ...ticked, [at]: ticks - 1 });
      else if (at > 0) remember(at - 1, ticked);
    },
    tick: (unit) => {
      if (step && unit >= 1 && unit <= step.tick_units)
        remember(at, { ...ticked, [at]: ticks === unit ? unit - 1 : unit });
    },
    skipped,
    openBefore: (kind) => openSteps(parcel.steps, kind, at, skipped),
    jump: (kind, left = []) => {
      const found = parcel.steps.findIndex((one) => one.kind === kind);
      if (found >= 0)
        remember(
          found,
          ticked,
          [...new Set([...skipped, ...left])].sort((a, b) => a - b),
        );
    },
    goTo: (step) => {
      if (step >= 0 && step < parcel.steps.length) remember(step, ticked);
    },
    weigh: (typed, shownUnit = "g", onTaken) =>
      run(
        () =>
          answer(
            api.POST("/api/parcels/{parcel_id}/weigh", {
              ...path,
              body: { typed, shown_unit: shownUnit },
            }),
          ),
        onTaken,
      ),
    settle: (words) =>
      run(() => answer(api.POST("/api/parcels/{parcel_id}/settle", { ...path, body: { words } }))),
    buy: (service, agreed) =>
      run(() =>
        answer(
          api.POST("/api/parcels/{parcel_id}/label", {
            ...path,
            body: { service, agreed: agreed ?? null },
          }),
        ),
      ),
    giveBack: () => run(() => answer(api.POST("/api/parcels/{parcel_id}/label/void", path))),
    track: () => run(() => answer(api.POST("/api/parcels/{parcel_id}/track", path))),
    record: (body) =>
      run(() => answer(api.POST("/api/parcels/{parcel_id}/label/record", { ...path, body }))),
    agreed,
    agree: setAgreed,
    close: () =>
      run(
        () =>
          answer(
            api.POST("/api/parcels/{parcel_id}/close", {
              ...path,
              body: { request_key: closeKey.current, agreed: parcel.charge ? agreed : null },
            }),
          ),
        () => forgetSpent(parcel.id),
      ),
    reopen: (words) => {
      closeKey.current = crypto.randomUUID();
      run(() => answer(api.POST("/api/parcels/{parcel_id}/reopen", { ...path, body: { words } })));
    },
  };
}
