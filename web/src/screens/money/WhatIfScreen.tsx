/** What if: a change tried on our own orders; before and after, order by order, in sum, and where it tips. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { cancelWhatIf, deleteWhatIf, whatIf, whatIfs } from "../../api/money";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords, many, momentWords } from "../../domain/words";
import { UnderWay } from "../../ui/UnderWay";
import { useAddress } from "../../ui/list/useList";
import {
  BESIDE,
  Button,
  Empty,
  LinkButton,
  Notice,
  ProblemNote,
  ScreenHead,
  Waiting,
} from "../../ui/parts";
import { AskSheet } from "./AskSheet";
import { changeFrom, type Typed } from "./asking";
import { KeepSheet } from "./KeepSheet";
import { MoneyTabs } from "./Tabs";
import { Changed, Sums, Unsent, WhereItTips } from "./WhatIfResult";

type Out = Schemas["WhatIfOut"];

export function WhatIfScreen() {
  const list = useQuery(whatIfs());
  const navigate = useNavigate();
  const { whatIfId } = useParams();
  const [params] = useAddress();
  const owner = useSession().role === "owner";
  const handed = changeFrom(params);
  const [asking, setAsking] = useState<Typed | "new" | null>(owner ? handed : null);
  const [keeping, setKeeping] = useState(false);
  const shown = Number(whatIfId) || (list.data?.results[0]?.id ?? 0);
  const query = useQuery(whatIf(shown));
  const here = shown > 0 ? query.data : undefined;
  useActions([
    { key: "n", label: "Try a change", run: () => setAsking("new"), off: !owner },
    {
      key: "s",
      label: "Keep it",
      run: () => setKeeping(true),
      off: !owner || here?.state !== "done",
    },
  ]);
  const failed = list.error ?? (shown > 0 ? query.error : null);
  if (failed)
    return (
      <div className="p-6">
        <ProblemNote error={failed} />
      </div>
    );
  if (!list.data || (shown > 0 && !query.data)) return <Waiting what="what was tried" />;
  return (
    <>
      <MoneyTabs />
      <Head
        here={here}
        owner={owner}
        onAsk={() => setAsking("new")}
        onKeep={() => setKeeping(true)}
      />
      {here ? (
        <Shown here={here} rows={list.data.results} owner={owner} />
      ) : (
        <div className="border-t border-line bg-sheet">
          <Empty title="Nothing was tried yet">
            <p>
              A price list, a wage, a carton gone or new, a recipe&rsquo;s version, another charge:
              your own orders are planned again with it, and you see what it would have done.
            </p>
          </Empty>
        </div>
      )}
      {asking ? (
        <AskSheet
          begin={asking === "new" ? null : asking}
          onBegun={(id) => {
            setAsking(null);
            void navigate(`/money/what-if/${id}`, { replace: true });
          }}
          onClose={() => setAsking(null)}
        />
      ) : null}
      {keeping && here ? <KeepSheet here={here} onClose={() => setKeeping(false)} /> : null}
    </>
  );
}

function Head({
  here,
  owner,
  onAsk,
  onKeep,
}: {
  here: Out | undefined;
  owner: boolean;
  onAsk: () => void;
  onKeep: () => void;
}) {
  const format = useFormat();
  return (
    <ScreenHead
      title={here ? titleOf(here, format.money) : "What would a change do to your own orders?"}
      under={here?.name ? `Kept as ${here.name}` : "Nothing here changes an order"}
    >
      {here?.state === "done" ? (
        <>
          <LinkButton href={`/api/money/what-ifs/${here.id}/what-if.pdf`} {...BESIDE}>
            Paper
          </LinkButton>
          <LinkButton href={`/api/money/what-ifs/${here.id}/what-if.csv`} download>
            Export CSV
          </LinkButton>
          {owner ? (
            <Button hotkey="S" onClick={onKeep}>
              Save
            </Button>
          ) : null}
        </>
      ) : null}
      {owner ? (
        <Button kind="next" hotkey="N" onClick={onAsk}>
          Try {here ? "another" : "a"} change
        </Button>
      ) : null}
    </ScreenHead>
  );
}

function titleOf(here: Out, money: (amount: string | number) => string): string {
  const start = `If ${here.changes.join(" and ")}`;
  if (here.result === null) return start;
  const change = Number(here.result.change);
  const sum =
    change === 0
      ? "nothing more or less"
      : `${money(Math.abs(change))} ${change > 0 ? "more" : "less"} in ${many(here.weeks, "week")}`;
  const lost = here.result.refused_count;
  return `${start}: ${sum}${lost > 0 ? `, ${many(lost, "order")} could not be sent` : ""}`;
}

function Shown({
  here,
  rows,
  owner,
}: {
  here: Out;
  rows: Schemas["WhatIfBrief"][];
  owner: boolean;
}) {
  const result = here.result;
  return (
    <>
      <p className="border-t border-line bg-sheet px-6 py-2.5 text-ink2">
        On {result ? many(result.orders, "order") : "the orders"} placed from{" "}
        <b className="text-ink">{dayWords(here.since)}</b> to{" "}
        <b className="text-ink">{dayWords(here.until)}</b>, with plenty of every supply and without
        the weather
        {result && result.neither > 0
          ? `; ${result.neither} cannot be planned either way and are left out`
          : ""}
      </p>
      <div className="grid grid-cols-[minmax(0,1fr)_400px] border-t border-line max-lg:grid-cols-1">
        <div className="min-w-0 bg-sheet px-6 py-4">
          <Standing here={here} owner={owner} />
          {result ? (
            <>
              <Changed result={result} />
              <Unsent result={result} />
            </>
          ) : null}
        </div>
        <aside className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t">
          {result ? (
            <>
              <Sums result={result} />
              {here.tip ? <WhereItTips tip={here.tip} /> : null}
            </>
          ) : null}
          <Tried rows={rows} here={here.id} owner={owner} />
        </aside>
      </div>
    </>
  );
}

function Standing({ here, owner }: { here: Out; owner: boolean }) {
  const cancel = useMutation(cancelWhatIf());
  switch (here.state) {
    case "done":
      return null;
    case "cancelled":
      return <Notice kind="mind">It was cancelled. Press N to try it again.</Notice>;
    case "failed":
      return <Notice kind="stop">{here.problem}</Notice>;
    default:
      return (
        <UnderWay
          job={here}
          what="orders planned"
          cancel={cancel}
          {...(owner ? { onCancel: () => cancel.mutate(here.id) } : {})}
        />
      );
  }
}

function Tried({
  rows,
  here,
  owner,
}: {
  rows: Schemas["WhatIfBrief"][];
  here: number;
  owner: boolean;
}) {
  const navigate = useNavigate();
  const gone = useMutation({
    ...deleteWhatIf(),
    onSuccess: () => void navigate("/money/what-if", { replace: true }),
  });
  return (
    <section className="mt-6">
      <h2 className="border-b border-line2 pb-1 text-lead">Tried and kept</h2>
      <ProblemNote error={gone.error} />
      {rows.map((row) => (
        <div key={row.id} className="flex items-center border-b border-line">
          <button
            type="button"
            aria-pressed={row.id === here}
            className={`min-h-11 min-w-0 grow py-1 text-left hover:bg-sheet ${row.id === here ? "font-semibold text-action" : ""}`}
            onClick={() => void navigate(`/money/what-if/${row.id}`, { replace: true })}
          >
            {row.name || row.changes.join(" and ")}
            <span className="block text-small font-normal text-ink2">
              {row.name ? "kept, " : ""}
              {momentWords(row.at)}
              {row.state === "done" ? "" : `, ${row.state}`}
            </span>
          </button>
          {owner && row.id === here && row.state !== "running" && row.state !== "waiting" ? (
            <Button kind="quiet" disabled={gone.isPending} onClick={() => gone.mutate(row.id)}>
              Delete
            </Button>
          ) : null}
        </div>
      ))}
    </section>
  );
}
