/** Parcels that have left: to ask about, on the way, told; a key an answer, the carriers asked. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { arrivals, askCarriers, type ArrivalShow } from "../../api/arrivals";
import { useActions } from "../../app/keys";
import { dayWords, many } from "../../domain/words";
import { OUTCOME_WORDS } from "../../domain/arriving";
import { goodsWords, type Arrival } from "./shown";
import { ListBar } from "../../ui/list/ListBar";
import { useAddress } from "../../ui/list/useList";
import { Pager } from "../../ui/Pager";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { AnswerSheet } from "./AnswerSheet";
import { AskList, ToldRow } from "./AskList";
import { ImportSheet } from "./ImportSheet";
import { ArrivalsTabs } from "./Tabs";
import { useAnswers } from "./useAnswers";

const SHOWS: readonly { key: ArrivalShow; name: string }[] = [
  { key: "ask", name: "To ask about" },
  { key: "way", name: "On the way" },
  { key: "told", name: "Told" },
  { key: "all", name: "All" },
];
const EMPTY: Record<ArrivalShow, string> = {
  ask: "Nothing to ask about",
  way: "Nothing is on the way",
  told: "Nobody told anything yet",
  all: "No parcel has left yet",
};

export function ParcelsScreen() {
  const [params, set] = useAddress();
  const show = SHOWS.find((one) => one.key === params.get("show"))?.key ?? "ask";
  const find = params.get("find") ?? "";
  const page = Number(params.get("page")) || 1;
  const list = useQuery(arrivals(show, find, page));
  const say = useToast();
  const ask = useMutation(askCarriers());
  const askNow = () =>
    ask.mutate(undefined, {
      onSuccess: (found) =>
        say(
          found.problem ||
            `${many(found.asked, "parcel")} asked about, ${found.delivered} came; ${found.whole} counted as whole.`,
          found.problem ? "stop" : "done",
        ),
    });
  const [importing, setImporting] = useState(false);
  useActions([
    { key: "a", label: "Ask the carriers", run: askNow, off: ask.isPending },
    { key: "i", label: "Import arrivals from a file", run: () => setImporting(true) },
  ]);
  const rows = list.data?.results ?? [];
  const answers = useAnswers(show === "ask" ? rows : []);
  return (
    <>
      <ArrivalsTabs />
      <ScreenHead
        title={list.data ? title(show, list.data.count, find) : "Parcels"}
        under={
          show === "ask"
            ? "Nobody said how they arrived. Two weeks after they came they count as whole, and say so."
            : undefined
        }
      >
        <Button hotkey="I" onClick={() => setImporting(true)}>
          Import
        </Button>
        <Button hotkey="A" disabled={ask.isPending} onClick={askNow}>
          {ask.isPending ? "Asking the carriers" : "Ask the carriers"}
        </Button>
      </ScreenHead>
      <div className="border-t border-line bg-sheet">
        <ListBar
          filters={SHOWS}
          filter={show}
          onFilter={(key) => set({ show: key === "ask" ? null : key, page: null })}
          search={find}
          onSearch={(text) => set({ find: text, page: null })}
          searchLabel="Order, buyer or tracking number"
        />
        <div className="px-6 pb-6">
          <ProblemNote error={list.error ?? answers.error ?? ask.error} />
          {list.isPending ? <Waiting what="the parcels" /> : null}
          {list.isSuccess && rows.length === 0 ? (
            <Empty title={find ? `No results for “${find}”` : EMPTY[show]} />
          ) : null}
          {show === "ask" ? (
            <AskList rows={rows} answers={answers} label="To ask about" />
          ) : (
            <ul>
              {rows.map((row) =>
                show === "way" ? (
                  <OnTheWay key={row.id} row={row} onOpen={() => answers.tell(row)} />
                ) : (
                  <ToldRow key={row.id} row={row} onOpen={() => answers.tell(row)} />
                ),
              )}
            </ul>
          )}
          <Pager
            page={page}
            pages={list.data?.pages ?? 1}
            onPage={(now) => set({ page: String(now) })}
          />
        </div>
      </div>
      {importing ? <ImportSheet onClose={() => setImporting(false)} /> : null}
      {answers.told ? (
        <AnswerSheet arrival={answers.told} onClose={() => answers.tell(null)} />
      ) : null}
    </>
  );
}

function title(show: ArrivalShow, count: number, find: string): string {
  if (find) return `${many(count, "parcel")} found`;
  if (count === 0) return EMPTY[show];
  return {
    ask: `${many(count, "parcel")} to ask about`,
    way: `${many(count, "parcel")} on the way`,
    told: `${many(count, "parcel")} told of`,
    all: many(count, "parcel"),
  }[show];
}

function OnTheWay({ row, onOpen }: { row: Arrival; onOpen: () => void }) {
  return (
    <li className="border-t border-line">
      <button
        type="button"
        className="flex min-h-11 w-full items-baseline gap-3 px-3 py-2 text-left hover:bg-soft"
        onClick={onOpen}
      >
        <b className="w-14 shrink-0">{row.number}</b>
        <span className="min-w-0 grow">
          {row.buyer}, {row.place}
          <span className="text-ink2">
            , {goodsWords(row)}, {row.service_name}
          </span>
        </span>
        <span className="shrink-0 text-ink2">
          {row.outcome === "unknown" ? `left ${dayWords(row.sent_on)}` : OUTCOME_WORDS[row.outcome]}
        </span>
        <span className="w-28 shrink-0 text-right">
          {row.late_days > 0 ? <Mark kind="mind" /> : null} due {dayWords(row.promised_on)}
        </span>
      </button>
    </li>
  );
}
