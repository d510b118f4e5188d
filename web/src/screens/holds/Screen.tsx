/** Orders that are set aside, as a list to work through: each with its next step and its date to look again. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { writeHoldNote, day } from "../../api/leaving";
import { releaseOrder, holds } from "../../api/orders";
import { useActions } from "../../app/keys";
import { dayWords, many, STATE_WORDS } from "../../domain/words";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Pager } from "../../ui/Pager";
import { useToast } from "../../ui/useToast";
import { Prepare } from "../day/Lists";
import { Risks } from "./Risks";
import { KIND_WORDS, nextStep } from "./kinds";

type Hold = Schemas["HoldOut"];

export function HoldsScreen() {
  const [page, setPage] = useState(1);
  const query = useQuery(holds(page));
  const [picked, setPicked] = useState(0);
  const step = useStep();
  const rows = query.data?.results ?? [];
  const at = Math.min(picked, Math.max(0, rows.length - 1));
  const here = rows[at];
  useActions([
    { key: "arrowdown", label: "Next order", run: () => setPicked(at + 1) },
    { key: "arrowup", label: "Order before", run: () => setPicked(Math.max(0, at - 1)) },
    { key: "enter", label: "Do its next step", run: () => here && step(here), off: !here },
  ]);
  if (query.isPending) return <Waiting what="what is set aside" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const { count, pages } = query.data;
  return (
    <>
      <ScreenHead
        title={count === 0 ? "Nothing is set aside" : `${many(count, "order")} set aside`}
        under="What keeps each of them, and what to do next"
      />
      <div className="border-t border-line bg-sheet px-6 py-4">
        <Missed />
        {rows.length === 0 ? (
          <Empty title="Every open order may be packed">
            <p>
              Back to{" "}
              <Link className="text-action underline" to="/day">
                the day
              </Link>
              .
            </p>
          </Empty>
        ) : (
          <table className="rule-table">
            <caption className="sr-only">Orders that are set aside</caption>
            <thead>
              <tr>
                <th>Order</th>
                <th>Why</th>
                <th>Answer</th>
                <th>Look again</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {rows.map((hold, index) => (
                <Row
                  key={hold.order_id}
                  hold={hold}
                  picked={index === at}
                  onPick={() => setPicked(index)}
                  onStep={() => step(hold)}
                />
              ))}
            </tbody>
          </table>
        )}
        <Pager page={page} pages={pages} onPage={setPage} />
        <Risks />
      </div>
    </>
  );
}

/** What should have been begun before the packing and was not: it keeps its orders as a hold does. */
function Missed() {
  const found = useQuery(day());
  const tasks = found.data?.tasks.filter((task) => task.state === "missed") ?? [];
  if (!found.data || tasks.length === 0) return null;
  return (
    <div className="mb-5 max-w-2xl">
      <Prepare
        day={{ ...found.data, tasks }}
        title="Not prepared in time: tick it when it is begun"
      />
    </div>
  );
}

function useStep() {
  const say = useToast();
  const navigate = useNavigate();
  const release = useMutation({
    ...releaseOrder(),
    onSuccess: (now) => say(`Order ${now.number} is ${STATE_WORDS[now.state] ?? now.state} now.`),
    onError: (error) => say(error.message, "stop"),
  });
  return (hold: Hold) => {
    const { path } = nextStep(hold);
    if (path) void navigate(path);
    else release.mutate(hold.order_id);
  };
}

function Row({
  hold,
  picked,
  onPick,
  onStep,
}: {
  hold: Hold;
  picked: boolean;
  onPick: () => void;
  onStep: () => void;
}) {
  return (
    <tr aria-selected={picked} className={picked ? "bg-soft" : ""} onPointerDown={onPick}>
      <td className="pl-2">
        <Link className="font-semibold text-action hover:underline" to={`/plan/${hold.order_id}`}>
          {hold.number}
        </Link>
        <span className="block text-small text-ink2">
          {dayWords(hold.placed_on)}, {hold.channel}
        </span>
        <span className="block">{hold.buyer}</span>
      </td>
      <td className="min-w-52 max-w-md">
        <b className={hold.kind === "until" ? "" : "text-stop"}>
          <Mark kind={hold.kind === "until" ? "mind" : "stop"} /> {KIND_WORDS[hold.kind]}
        </b>
        <span className="line-clamp-4">{hold.reason}</span>
        {hold.arriving.map((one) => (
          <span key={one.code} className="block">
            <Mark kind="mind" /> {Number(one.quantity)} {one.name} arrive {dayWords(one.day)}: it is
            planned again then.
          </span>
        ))}
        {hold.note ? <span className="block text-ink2">Buyer: “{hold.note}”</span> : null}
      </td>
      <Note hold={hold} />
      <td className="text-right">
        <Button kind={picked ? "next" : "plain"} onClick={onStep}>
          {nextStep(hold).words}
        </Button>
      </td>
    </tr>
  );
}

/** What was answered, and when to look again: kept when the field is left. */
function Note({ hold }: { hold: Hold }) {
  const say = useToast();
  const [answer, setAnswer] = useState(hold.answer);
  const write = useMutation({
    ...writeHoldNote(),
    onError: (error) => say(`Not kept: ${error.message}`, "stop"),
  });
  const keep = (look_again: string | null) =>
    write.mutate({ id: hold.order_id, body: { answer, look_again } });
  return (
    <>
      <td>
        <textarea
          aria-label={`Answer for ${hold.number}`}
          rows={2}
          maxLength={500}
          className="w-64 rounded-part max-lg:w-36 border border-line2 bg-ground px-2.5 py-1.5"
          value={answer}
          onChange={(event) => setAnswer(event.target.value)}
          onBlur={() => answer !== hold.answer && keep(hold.look_again)}
        />
        {hold.answered_by && hold.answer ? (
          <span className="block text-small text-ink2">{hold.answered_by}</span>
        ) : null}
      </td>
      <td>
        <input
          type="date"
          aria-label={`Look at ${hold.number} again on`}
          className="min-h-10 rounded-part border border-line2 bg-ground px-2"
          value={hold.look_again ?? ""}
          onChange={(event) => keep(event.target.value || null)}
        />
      </td>
    </>
  );
}
