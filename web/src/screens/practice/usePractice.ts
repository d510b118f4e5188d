/** One practice under way: its step, what is told of the table, the scale, and its end. */
import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { endPractice, reportPractice, weighPractice } from "../../api/practice";
import { useToast } from "../../ui/useToast";
import { forgetPractice, gone, keepPractice, savedPractice, type Kept } from "./kept";

export type Run = Schemas["PracticeOut"];
export type SlipKind = NonNullable<Schemas["PracticeWeighIn"]["named"]>;

export function usePractice(run: Run) {
  const [kept, setKept] = useState<Kept>(() => savedPractice(run.id, run.steps.length));
  const since = useRef<number | null>(null);
  const say = useToast();
  const tell = (error: Error) => say(error.message, "stop");
  const report = useMutation({
    ...reportPractice(run.id),
    onSuccess: ({ right }) =>
      right
        ? say("You saw it. It is put right: go on.")
        : say("That is as planned: look at it again.", "stop"),
    onError: tell,
  });
  const weighing = useMutation({ ...weighPractice(run.id), onError: tell });
  const ending = useMutation({
    ...endPractice(run.id),
    onSuccess: () => forgetPractice(run.id),
    onError: tell,
  });
  const moved = (to: number): Kept => {
    const now = Date.now();
    const next = gone(kept, to, since.current ?? now, now);
    since.current = now;
    return next;
  };
  const go = (to: number) => {
    if (to < 0 || to >= run.steps.length) return;
    const next = moved(to);
    keepPractice(run.id, next);
    setKept(next);
    weighing.reset();
  };
  return {
    at: kept.at,
    busy: report.isPending || weighing.isPending || ending.isPending,
    check: weighing.data?.check ?? null,
    begin: () => (since.current ??= Date.now()),
    back: () => go(kept.at - 1),
    next: () => (kept.at + 1 < run.steps.length ? go(kept.at + 1) : end()),
    report: (take: number) => report.mutate({ step: kept.at, take }),
    weigh: (named: SlipKind | null = null) => weighing.mutate({ named }),
    end,
  };

  function end() {
    ending.mutate(moved(kept.at).spent);
  }
}

export type Practice = ReturnType<typeof usePractice>;
