/** What the weather of its way does to an order: the way as a strip, ways out with one key, the buyer's word. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { orderCare } from "../../api/care";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { degrees, LEG_WORDS, wayWords } from "../../domain/heat";
import { dayWords, many } from "../../domain/words";
import { WayStrip } from "../../drawings/WayStrip";
import { Button, Mark, Notice, ProblemNote } from "../../ui/parts";
import { useDecide } from "./Advice";
import { before, type Decisions } from "./advised";
import { ConsentSheet } from "./ConsentSheet";

type Proposal = Schemas["CareProposalOut"];

interface Props {
  orderId: number;
  editable: boolean;
  decided: Decisions;
}

export default function Care({ orderId, editable, decided }: Props) {
  const found = useQuery(orderCare(orderId));
  const decide = useDecide(orderId);
  const [open, setOpen] = useState(false);
  const [asking, setAsking] = useState(false);
  const care = found.data;
  const best = care?.proposals.find((one) => one.decisions !== null);
  const off = !editable || decide.isPending;
  const take = (one: Proposal) => {
    if (!one.decisions) {
      setAsking(true);
      return;
    }
    before.put(orderId, decided);
    decide.mutate(one.decisions as Decisions);
  };
  useActions([
    {
      key: "w",
      label: open ? "Hide the weather of the way" : "The weather of the way",
      run: () => setOpen(!open),
      off: !care,
    },
    {
      key: "t",
      label: best ? `Take the way out: ${best.words}` : "Take the way out",
      run: () => best && take(best),
      off: off || !best,
    },
    {
      key: "b",
      label: "Ask the buyer about the weather",
      run: () => setAsking(true),
      off: !care || care.question === "",
    },
  ]);
  if (found.isError) return <ProblemNote error={found.error} />;
  if (!care || care.verdict === null) return null;
  const shown = open || care.verdict === "danger";
  return (
    <section aria-label="The weather of the way">
      <Verdict care={care} shown={shown} onShow={() => setOpen(!open)} />
      {care.forecast.silent ? (
        <Notice kind="mind">
          Nothing was foretold for more than a day
          {care.forecast.heard_at ? ` (last ${dayWords(care.forecast.heard_at.slice(0, 10))})` : ""}
          : the way is shown by usual weather, and nothing is released by itself.
        </Notice>
      ) : null}
      {shown ? (
        <div className="grid grid-cols-[minmax(0,1fr)_380px] gap-x-8 border-t border-line bg-sheet px-5 py-3 max-lg:grid-cols-1">
          <Ways care={care} />
          <Outs care={care} off={off} onTake={take} onAsk={() => setAsking(true)} />
        </div>
      ) : null}
      {asking ? <ConsentSheet care={care} onClose={() => setAsking(false)} /> : null}
    </section>
  );
}

function Verdict({
  care,
  shown,
  onShow,
}: {
  care: Schemas["CareOut"];
  shown: boolean;
  onShow: () => void;
}) {
  const first = care.parcels[0];
  const words =
    care.verdict === "safe"
      ? `The weather of its way suits the goods. ${first?.margins.join(" ") ?? ""}`
      : care.why;
  return (
    <div
      className={`flex items-start gap-2.5 border-b border-line px-5 py-2 ${care.verdict === "danger" ? "bg-stop-soft" : "bg-sheet"}`}
      role="status"
    >
      <span className="mt-0.5">
        <Mark
          kind={{ safe: "ok", danger: "stop", agreed: "mind" }[care.verdict ?? "safe"] as "ok"}
        />
      </span>
      <p className="grow">
        {care.verdict === "agreed" ? <b>The buyer agreed. </b> : null}
        {words} {first?.holds ? <span className="text-ink2">In it: {first.holds}.</span> : null}
      </p>
      {care.verdict === "danger" ? null : (
        <button
          type="button"
          aria-expanded={shown}
          className="whitespace-nowrap text-action underline"
          onClick={onShow}
        >
          {shown ? "Hide the way" : "Show the way"} <span className="keycap">W</span>
        </button>
      )}
    </div>
  );
}

function Ways({ care }: { care: Schemas["CareOut"] }) {
  const format = useFormat();
  return (
    <div className="min-w-0">
      {care.parcels.map((one, index) => (
        <div key={index} className={index ? "mt-4" : ""}>
          <h3 className="flex flex-wrap items-baseline gap-x-3 text-lead">
            {care.parcels.length > 1 ? `Parcel ${one.part}: ` : ""}
            {one.goods.join(", ")}
            <span className="font-text text-small font-normal text-ink2">
              {many(one.days, "day")} on the road
              {one.days_limit === null ? "" : `, at most ${one.days_limit}`}
              {one.melted_percent > 0
                ? `; the packs are ${one.melted_percent} % melted on arrival`
                : ""}
            </span>
          </h3>
          <WayStrip
            hours={one.hours}
            low={one.low_limit_c}
            high={one.high_limit_c}
            imperial={format.imperial}
          />
          <p className="mt-1 text-small">{one.margins.join(" ")}</p>
          <details className="text-small text-ink2">
            <summary className="cursor-pointer text-action">The way in words</summary>
            <p className="mt-1">
              {wayWords(one.hours, one.low_limit_c, one.high_limit_c, format.imperial)}
            </p>
            <ol className="mt-1 columns-2 gap-6">
              {one.hours
                .filter((_, at) => at % 3 === 0)
                .map((hour) => (
                  <li key={hour.begins}>
                    {dayWords(hour.begins.slice(0, 10))} {hour.begins.slice(11, 16)},{" "}
                    {LEG_WORDS[hour.kind]}: {degrees(hour.outside_c, format.imperial)}, goods{" "}
                    {degrees(hour.inside_c, format.imperial)}
                  </li>
                ))}
            </ol>
          </details>
        </div>
      ))}
    </div>
  );
}

function Outs({
  care,
  off,
  onTake,
  onAsk,
}: {
  care: Schemas["CareOut"];
  off: boolean;
  onTake: (one: Proposal) => void;
  onAsk: () => void;
}) {
  const format = useFormat();
  const { sees_costs } = useSession();
  if (care.proposals.length === 0 && !care.consent) return null;
  const first = care.proposals.findIndex((one) => one.decisions !== null);
  return (
    <div className="max-lg:mt-4">
      <h3 className="text-lead">
        {care.verdict === "danger" ? "Ways out, by what they come to" : "The buyer"}
      </h3>
      <ul>
        {care.proposals.map((one, index) => (
          <li key={one.words} className="flex items-start gap-3 border-t border-line py-1.5">
            <span className="grow">
              {one.words}
              <span className="block text-small text-ink2">
                {[
                  one.container && one.kind === "packs" ? `in ${one.container}` : "",
                  sees_costs && one.kind !== "consent"
                    ? `${format.money(one.all_in)} all in, with ${format.money(one.loss)} expected loss`
                    : "",
                ]
                  .filter(Boolean)
                  .join("; ")}
              </span>
            </span>
            <Button
              hotkey={index === first ? "T" : one.decisions ? undefined : "B"}
              disabled={off}
              onClick={() => onTake(one)}
            >
              {one.decisions ? "Take" : "Ask"}
            </Button>
          </li>
        ))}
      </ul>
      {care.consent ? (
        <p className="border-t border-line py-1.5 text-small">
          Asked by {care.consent.asked_by} on {dayWords(care.consent.asked_at.slice(0, 10))}.{" "}
          {care.consent.answer
            ? `Answer of ${dayWords(care.consent.answered_on ?? "")}: “${care.consent.words}”, noted by ${care.consent.noted_by}.`
            : "No answer yet."}{" "}
          <button type="button" className="text-action underline" onClick={onAsk}>
            {care.consent.answer ? "See it" : "Write the answer down"}
          </button>
        </p>
      ) : null}
    </div>
  );
}
