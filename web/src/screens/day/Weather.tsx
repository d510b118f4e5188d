/** Orders that the weather concerns, a line each: why, what is proposed, taken with one key and taken back with one. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { careLines, decideCare } from "../../api/care";
import { useActions } from "../../app/keys";
import { dayWords, many } from "../../domain/words";
import { Button, Mark, Notice } from "../../ui/parts";
import { Pager } from "../../ui/Pager";
import { useToast } from "../../ui/useToast";

type Line = Schemas["CareLineOut"];

/** Closures that the workshop's air makes weak. */
function Damp({ day }: { day: Schemas["DayOut"] }) {
  return day.damp.map((one) => (
    <Notice key={one.name} kind="mind">
      The air is at {day.humidity_percent} %, and {one.name} holds less above {one.above_percent} %:{" "}
      {many(one.parcels, "parcel")} of the day. Press it down longer, or take another tape.
    </Notice>
  ));
}

export default function Weather({ day }: { day: Schemas["DayOut"] }) {
  const silent = day.forecast_silent;
  const [page, setPage] = useState(1);
  const found = useQuery(careLines(page));
  const say = useToast();
  const [last, setLast] = useState<Line | null>(null);
  const decide = useMutation({ ...decideCare(), onError: (error) => say(error.message, "stop") });
  const rows = found.data?.results ?? [];
  const first = rows.find((one) => one.verdict === "danger" && one.decisions);
  const take = (one: Line) => {
    if (!one.decisions) return;
    decide.mutate(
      { id: one.order_id, body: one.decisions },
      {
        onSuccess: () => {
          setLast(one);
          say(`Order ${one.number}: ${one.proposed} Press U to take it back.`);
        },
      },
    );
  };
  const back = () => {
    if (last)
      decide.mutate({ id: last.order_id, body: last.undo }, { onSuccess: () => setLast(null) });
  };
  useActions([
    {
      key: "t",
      label: first ? `Take the way out of order ${first.number}` : "Take the first way out",
      run: () => first && take(first),
      off: !first || decide.isPending,
    },
    {
      key: "u",
      label: last ? `Take back what was done for order ${last.number}` : "Take back the way out",
      run: back,
      off: !last || decide.isPending,
    },
  ]);
  if (!found.data || (found.data.count === 0 && !silent && !last)) return <Damp day={day} />;
  return (
    <section className="border-b border-line bg-sheet px-6 py-3" aria-label="Weather">
      <Damp day={day} />
      {silent ? (
        <Notice kind="mind">
          Nothing was foretold for more than a day: usual weather is taken, and no order is released
          by itself.
        </Notice>
      ) : null}
      <h2 className="flex items-baseline justify-between text-lead">
        {rows.length === 0
          ? "No order waits for other weather"
          : `Weather: ${many(found.data.count, "order")}`}
        {last ? (
          <Button kind="quiet" hotkey="U" disabled={decide.isPending} onClick={back}>
            Take back {last.number}
          </Button>
        ) : null}
      </h2>
      <ul>
        {rows.map((one) => (
          <li key={one.order_id} className="flex items-start gap-2.5 border-t border-line py-1.5">
            <span className="mt-0.5">
              <Mark kind={one.verdict === "danger" ? "stop" : "mind"} />
            </span>
            <span className="min-w-0 grow">
              <Link
                className="font-semibold text-action hover:underline"
                to={`/plan/${one.order_id}`}
              >
                {one.number}
              </Link>{" "}
              {one.buyer}, leaves {dayWords(one.ship_on)}.{" "}
              {one.verdict === "agreed" ? "The buyer agreed. " : ""}
              <span className="text-ink2">{one.why}</span>
              {one.verdict === "danger" && one.proposed ? (
                <span className="block">{one.proposed}</span>
              ) : null}
            </span>
            {one.verdict === "danger" && one.decisions ? (
              <Button
                hotkey={one === first ? "T" : undefined}
                disabled={decide.isPending}
                onClick={() => take(one)}
              >
                Take
              </Button>
            ) : null}
          </li>
        ))}
      </ul>
      <Pager page={page} pages={found.data.pages} onPage={setPage} />
    </section>
  );
}
