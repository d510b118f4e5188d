/** What must be ready before the packing: by time, ticked off, who did it; the freezer; a calendar to subscribe to. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { preparations, setCalendar } from "../../api/care";
import { markPrepared } from "../../api/leaving";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { momentOf } from "../../domain/day";
import { dayWords, many } from "../../domain/words";
import {
  BESIDE,
  Button,
  Empty,
  LinkButton,
  Mark,
  ProblemNote,
  ScreenHead,
  Waiting,
} from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import { taskName, taskWords } from "../day/Lists";
import { Freezer } from "./Freezer";

type Task = Schemas["PreparationOut"];

export function PrepareScreen() {
  const query = useQuery(preparations());
  const say = useToast();
  const [picked, setPicked] = useState(0);
  const mark = useMutation({ ...markPrepared(), onError: (error) => say(error.message, "stop") });
  const tasks = query.data?.tasks ?? [];
  const at = Math.min(picked, Math.max(0, tasks.length - 1));
  const here = tasks[at];
  const tick = (task: Task) =>
    mark.mutate({ what: task.what, order_ids: task.order_ids, done: task.state !== "done" });
  useActions([
    {
      key: "arrowdown",
      label: "Next task",
      run: () => setPicked(Math.min(at + 1, tasks.length - 1)),
    },
    { key: "arrowup", label: "Task before", run: () => setPicked(Math.max(0, at - 1)) },
    {
      key: "x",
      label: here ? `Tick ${taskName(here)}` : "Tick the task",
      run: () => here && tick(here),
      off: !here || mark.isPending,
    },
  ]);
  if (query.isPending) return <Waiting what="what to prepare" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const missed = tasks.filter((task) => task.state === "missed");
  const due = tasks.filter((task) => task.state === "due");
  return (
    <>
      <ScreenHead
        title={headline(missed.length, due, query.data.day)}
        under="What recipes and the weather ask for before the packing"
      />
      <div className="grid grid-cols-[minmax(0,1fr)_380px] gap-x-10 border-t border-line bg-sheet px-6 py-4 max-lg:grid-cols-1">
        <div>
          {tasks.length === 0 ? (
            <Empty title="Nothing to prepare">
              <p>
                When a recipe asks for something ahead, or packs must be frozen for the weather, it
                stands here. Back to{" "}
                <Link className="text-action underline" to="/day">
                  the day
                </Link>
                .
              </p>
            </Empty>
          ) : (
            <ul>
              {tasks.map((task, index) => (
                <Row
                  key={`${task.what} ${task.due} ${task.state}`}
                  task={task}
                  day={query.data.day}
                  picked={index === at}
                  off={mark.isPending}
                  onPick={() => setPicked(index)}
                  onTick={() => tick(task)}
                />
              ))}
            </ul>
          )}
          <Calendar path={query.data.calendar} />
        </div>
        <Freezer />
      </div>
    </>
  );
}

function headline(missed: number, due: readonly Task[], day: string): string {
  if (missed > 0) return `${many(missed, "task")} not begun in time`;
  const next = due[0];
  return next ? `${taskName(next)} by ${momentOf(day, next.due_s)}` : "Nothing is left to prepare";
}

function Row({
  task,
  day,
  picked,
  off,
  onPick,
  onTick,
}: {
  task: Task;
  day: string;
  picked: boolean;
  off: boolean;
  onPick: () => void;
  onTick: () => void;
}) {
  return (
    <li
      className={`flex items-start gap-3.5 border-b border-line px-2 py-2.5 ${picked ? "bg-soft" : ""}`}
      onPointerDown={onPick}
    >
      <input
        type="checkbox"
        className="mt-0.5 size-6 shrink-0 accent-action"
        aria-label={`${taskName(task)} for ${task.numbers.join(", ")}`}
        checked={task.state === "done"}
        disabled={off}
        onChange={onTick}
      />
      <span className="min-w-0 grow">
        <span className={`text-lead ${task.state === "done" ? "text-ink2 line-through" : ""}`}>
          {taskName(task)}
        </span>{" "}
        {task.state === "missed" ? <Mark kind="stop" /> : null}
        <span className={`block ${task.state === "missed" ? "text-stop" : "text-ink2"}`}>
          {taskWords(task, day, true)}
        </span>
        {task.done_by ? (
          <span className="block text-small text-ink2">
            {task.done_by}, {dayWords((task.done_at ?? "").slice(0, 10))}{" "}
            {(task.done_at ?? "").slice(11, 16)}
          </span>
        ) : null}
      </span>
      {picked ? <span className="keycap">X</span> : null}
    </li>
  );
}

/** A file, or an address that a calendar asks by itself; whoever has it reads it, so it can be renewed. */
function Calendar({ path }: { path: string }) {
  const say = useToast();
  const { role } = useSession();
  const set = useMutation({ ...setCalendar(), onError: (error) => say(error.message, "stop") });
  const address = path ? `${window.location.origin}${path}` : "";
  return (
    <section className="mt-6" aria-label="Calendar">
      <h2 className="border-b border-line2 pb-1.5 text-lead">As a calendar</h2>
      <div className="flex flex-wrap items-center gap-3 py-2.5">
        <LinkButton href="/api/day/tasks.ics" {...BESIDE}>
          Calendar file
        </LinkButton>
        {role === "owner" ? (
          <>
            <Button disabled={set.isPending} onClick={() => set.mutate({ on: true })}>
              {path ? "New private address" : "Make a private address"}
            </Button>
            {path ? (
              <Button
                kind="quiet"
                disabled={set.isPending}
                onClick={() => set.mutate({ on: false })}
              >
                Switch it off
              </Button>
            ) : null}
          </>
        ) : null}
      </div>
      {path ? (
        <p className="text-small text-ink2">
          Subscribe to <code className="break-all text-ink">{address}</code>. Whoever knows it reads
          the list: a new address ends the old one.
        </p>
      ) : null}
    </section>
  );
}
