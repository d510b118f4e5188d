/** How a practice went: what was seen, what the scale found, what was missed; minutes against the workshop's. */
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { deletePractice } from "../../api/practice";
import { useActions } from "../../app/keys";
import { fixed } from "../../domain/figures";
import { STEP_WORDS, many } from "../../domain/words";
import { Button, Mark } from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import type { Run } from "./usePractice";

type Found = Schemas["PracticeResult"];

const HOW: Record<Found["tricks"][number]["how"], string> = {
  seen: "seen at its step",
  weighed: "found on the scale",
  missed: "not noticed",
};

export function Result({ run, result }: { run: Run; result: Found }) {
  const navigate = useNavigate();
  const say = useToast();
  const back = () => void navigate("/practice");
  const remove = useMutation({
    ...deletePractice(),
    onSuccess: back,
    onError: (error) => say(error.message, "stop"),
  });
  useActions([{ key: " ", label: "Back to practice", run: back }]);
  const caught = result.tricks.filter((one) => one.how !== "missed").length;
  return (
    <main className="mx-auto max-w-4xl px-8 py-9 text-bench">
      <p className="text-lead text-ink2">Practice with order {run.number}</p>
      <h1 className="mt-1 text-[38px] leading-tight">
        {result.tricks.length === 0
          ? "Nothing was wrong with this one"
          : `You caught ${caught} of ${result.tricks.length}`}
      </h1>
      <ul className="mt-5" aria-label="What was not as planned">
        {result.tricks.map((one) => (
          <li key={one.kind} className="flex items-center gap-3 border-t border-line py-2">
            <Mark kind={one.how === "missed" ? "stop" : "done"} />
            <span>
              {one.words}: <b>{HOW[one.how]}</b>
            </span>
          </li>
        ))}
      </ul>
      {result.false_alarms > 0 ? (
        <p className="mt-2">
          {result.false_alarms === 1 ? "Once" : many(result.false_alarms, "time")} you said
          something was wrong that was as planned.
        </p>
      ) : null}
      <Minutes rows={result.minutes} />
      <div className="mt-7 flex flex-wrap gap-3">
        <Button kind="next" hotkey="Space" className="min-h-12" onClick={back}>
          Back to practice
        </Button>
        <Button
          className="min-h-12"
          disabled={remove.isPending}
          onClick={() => remove.mutate(run.id)}
        >
          Delete this practice
        </Button>
      </div>
    </main>
  );
}

function Minutes({ rows }: { rows: Found["minutes"] }) {
  if (rows.length === 0) return null;
  return (
    <table className="rule-table mt-7 text-lead">
      <caption className="sr-only">Minutes for a step of each kind</caption>
      <thead>
        <tr>
          <th>Step</th>
          <th className="num">Your minutes</th>
          <th className="num">The workshop’s</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.kind}>
            <td>{STEP_WORDS[row.kind] ?? row.kind}</td>
            <td className="num">{fixed(row.minutes, 2)}</td>
            <td className="num">{row.usual === null ? "not known yet" : fixed(row.usual, 2)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
