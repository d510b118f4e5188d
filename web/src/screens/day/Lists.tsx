/** Below the line: what is set aside, what to prepare, what to carry up next. */
import { useMutation } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { markPrepared } from "../../api/leaving";
import { clockWords, minutesOf, momentOf, weekdayOf } from "../../domain/day";
import { many } from "../../domain/words";
import { Mark } from "../../ui/parts";
import { useToast } from "../../ui/useToast";

type Day = Schemas["DayOut"];

export function Column({
  title,
  more,
  children,
}: {
  title: string;
  more?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section className="min-w-0">
      <h2 className="flex items-baseline justify-between gap-3 border-b border-line2 pb-1.5 text-lead">
        <span>{title}</span>
        <span className="whitespace-nowrap font-text text-small font-normal">{more}</span>
      </h2>
      {children}
    </section>
  );
}

export function Aside({ day }: { day: Day }) {
  return (
    <Column
      title={day.aside_count === 0 ? "Nothing is set aside" : `Set aside, ${day.aside_count}`}
      more={
        day.aside_count > 0 ? (
          <Link className="text-action underline" to="/holds">
            work through them
          </Link>
        ) : null
      }
    >
      <ul>
        {day.aside.map((one) => (
          <li key={one.order_id} className="flex gap-2.5 border-b border-line py-1.5">
            <Mark kind={one.held_by === "until_day" ? "mind" : "stop"} />
            <span className="min-w-0">
              <Link
                className="font-semibold text-action hover:underline"
                to={`/plan/${one.order_id}`}
              >
                {one.number}
              </Link>{" "}
              {one.buyer}
              <span className="line-clamp-2 text-small text-ink2">{one.reason}</span>
            </span>
          </li>
        ))}
      </ul>
    </Column>
  );
}

export function Prepare({ day, title }: { day: Day; title?: string }) {
  const say = useToast();
  const mark = useMutation({
    ...markPrepared(),
    onError: (error) => say(error.message, "stop"),
  });
  return (
    <Column
      title={title ?? (day.tasks.length === 0 ? "Nothing to prepare" : "To prepare")}
      more={
        day.tasks.length > 0 ? (
          <Link className="text-action underline" to="/prepare">
            all of it
          </Link>
        ) : null
      }
    >
      <ul>
        {day.tasks.map((task) => (
          <li
            key={`${task.what} ${task.due} ${task.state}`}
            className="flex items-start gap-2.5 border-b border-line py-1.5"
          >
            <input
              type="checkbox"
              className="mt-0.5 size-5 shrink-0 accent-action"
              aria-label={`${taskName(task)} for ${task.numbers.join(", ")}`}
              checked={task.state === "done"}
              disabled={mark.isPending}
              onChange={(event) =>
                mark.mutate({
                  what: task.what,
                  order_ids: task.order_ids,
                  done: event.target.checked,
                })
              }
            />
            <span className="min-w-0 grow">
              <span className={task.state === "done" ? "text-ink2 line-through" : ""}>
                {taskName(task)}
              </span>
              <span
                className={`block text-small ${task.state === "missed" ? "text-stop" : "text-ink2"}`}
              >
                {taskWords(task, day.day, day.is_today)}
              </span>
            </span>
          </li>
        ))}
      </ul>
    </Column>
  );
}

/** "Freeze Gel pack, 400 g: 6"; "Rye starter, live: feed it". */
export function taskName(task: Pick<Schemas["TaskOut"], "what" | "count" | "goods">): string {
  if (task.count > 0) return `${task.what}: ${task.count}`;
  return task.goods.length > 0 ? `${task.goods.join("; ")}: ${task.what}` : task.what;
}

/** When it must be begun, for which orders, or from when they can be packed. */
export function taskWords(task: Schemas["TaskOut"], day: string, isToday: boolean): string {
  const at = (seconds: number) => momentOf(day, seconds, isToday);
  const whom = `for ${task.numbers.slice(0, 5).join(", ")}${task.numbers.length > 5 ? ` and ${task.numbers.length - 5} more` : ""}`;
  const minutes =
    Number(task.minutes) > 0 ? `, ${many(Math.ceil(Number(task.minutes)), "minute")}` : "";
  if (task.state === "done") return `${whom}; ready ${at(task.ready_s)}`;
  if (task.state === "missed")
    return `not begun ${at(task.due_s)}; ${whom}: begun now, they can be packed ${at(task.ready_s)}`;
  return `begin by ${at(task.due_s)}, ${whom}${minutes}`;
}

export function NextWave({ day }: { day: Day }) {
  const wave = day.wave;
  const post = day.posts.find((one) => one.key === wave?.post);
  if (!wave) return <Column title="No wave waits">{null}</Column>;
  return (
    <Column
      title={`Carry up for the next wave, ${many(wave.order_ids.length, "order")}`}
      more={post ? `for ${clockWords(post.at_s)}` : ""}
    >
      <ul>
        {wave.goods.map((one) => (
          <Thing key={one.code} place={one.place} name={one.name} count={one.count} />
        ))}
        {wave.containers.length > 0 ? (
          <Thing
            place={wave.containers[0]?.place ?? ""}
            name={wave.containers.map((one) => `${one.code} × ${one.count}`).join(", ")}
            count={wave.containers.reduce((sum, one) => sum + one.count, 0)}
          />
        ) : null}
      </ul>
      {day.waves > 1 ? (
        <p className="pt-1.5 text-small text-ink2">{many(day.waves - 1, "more wave")} after it</p>
      ) : null}
    </Column>
  );
}

function Thing({ place, name, count }: { place: string; name: string; count: number }) {
  return (
    <li className="flex items-baseline gap-2.5 border-b border-line py-1.5">
      <b className="w-9 shrink-0">{place}</b>
      <span className="min-w-0 grow truncate">{name}</span>
      <b>{count}</b>
    </li>
  );
}

/** What the line draws, in words: for those who do not see it, and for numbers too small to read. */
export function PostList({ day }: { day: Day }) {
  const when = day.is_today ? "today" : `on ${weekdayOf(day.day)}`;
  return (
    <Column title={day.posts.length === 0 ? `No hand-over ${when}` : `Hand-overs ${when}`}>
      <ul>
        {day.posts.map((post) => (
          <li key={post.key} className="border-b border-line py-1.5">
            <span className="flex items-baseline justify-between gap-3">
              <span>
                <b>{clockWords(post.at_s)}</b> {post.name}
              </span>
              <span className="text-small text-ink2">
                {post.begin_by_s === null ? "" : `begin by ${clockWords(post.begin_by_s)}`}
              </span>
            </span>
            <span className="block text-small text-ink2">
              {[
                post.waiting > 0 ? `${post.waiting} to pack` : "",
                post.late > 0 ? `${post.late} too late` : "",
                post.ready > 0 ? `${post.ready} ready` : "",
                post.left > 0 ? `${post.left} handed over` : "",
                post.kind === "trip" ? `leave by ${clockWords(post.due_s)}` : "",
                post.day === day.day ? "" : "packed ahead: the closure needs the time",
                post.assumed ? "time taken from its cut-off" : "",
              ]
                .filter(Boolean)
                .join(", ") || "nothing for it yet"}
            </span>
          </li>
        ))}
        {day.later.map((one) => (
          <li key={one.day} className="flex justify-between border-b border-line py-1.5 text-ink2">
            <span>
              {many(one.parcels, "parcel")} on {weekdayOf(one.day)}
            </span>
            <span className="text-small">{minutesOf(one.minutes * 60)} min</span>
          </li>
        ))}
      </ul>
    </Column>
  );
}
