/** Claims: what carriers owe for what they broke or lost, until when, which proofs are there. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { claims, saveClaim } from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import { useFormat, useSession } from "../../app/session";
import { OUTCOME_WORDS } from "../../domain/arriving";
import { goodsWords } from "./shown";
import { dayWords, many } from "../../domain/words";
import { Choose } from "../../ui/Choose";
import { useAddress } from "../../ui/list/useList";
import { Pager } from "../../ui/Pager";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import {
  BESIDE,
  Button,
  Empty,
  Field,
  LinkButton,
  Mark,
  ProblemNote,
  ScreenHead,
  Waiting,
} from "../../ui/parts";
import { AnswerSheet } from "./AnswerSheet";
import { ArrivalsTabs } from "./Tabs";

type Claim = Schemas["ClaimOut"];

const STATE_WORDS: Record<Claim["state"], string> = {
  open: "to be made",
  made: "made",
  paid: "paid",
  refused: "refused",
  dropped: "dropped",
};
/** From so few days on it is urgent. */
const SOON = 3;

export function ClaimsScreen() {
  const [params, set] = useAddress();
  const page = Number(params.get("page")) || 1;
  const list = useQuery(claims(page));
  const [settling, setSettling] = useState<Claim | null>(null);
  const [telling, setTelling] = useState<Claim | null>(null);
  const format = useFormat();
  const owner = useSession().role === "owner";
  if (list.isPending) return <Waiting what="the claims" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const rows = list.data.results;
  const open = rows.filter((one) => one.state === "open" && !over(one));
  const next = open.find((one) => one.arrival.claim?.days_left != null);
  const sum = open.reduce((total, one) => total + Number(one.amount), 0);
  return (
    <>
      <ArrivalsTabs />
      <ScreenHead
        title={
          open.length === 0
            ? "No claim is to be made"
            : `${format.money(sum)} to claim${next?.until ? `, the first by ${dayWords(next.until)}` : ""}`
        }
        under="What cover pays for parcels that were broken, spoiled or lost"
      />
      <div className="border-t border-line bg-sheet px-6 py-4">
        {rows.length === 0 ? (
          <Empty title="Nothing to claim">
            When a parcel with cover is told as broken, spoiled or lost, its claim stands here.
          </Empty>
        ) : (
          <table className="rule-table">
            <thead>
              <tr>
                <th>Order</th>
                <th>What happened</th>
                <th className="num">Claim</th>
                <th>Until</th>
                <th>Proofs</th>
                <th>Status</th>
                <th>
                  <span className="sr-only">Change</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.id}>
                  <td>
                    <button
                      type="button"
                      className="-my-[7px] min-h-9 font-semibold text-action hover:underline"
                      onClick={() => setTelling(row)}
                    >
                      {row.arrival.number}
                    </button>
                    <span className="block text-small text-ink2">{row.arrival.buyer}</span>
                  </td>
                  <td>
                    {OUTCOME_WORDS[row.arrival.outcome]}: {goodsWords(row.arrival)}
                    <span className="block text-small text-ink2">
                      {row.arrival.service_name}, {row.arrival.tracking}
                    </span>
                  </td>
                  <td className="num">
                    {format.money(row.amount)}
                    {row.paid !== null ? (
                      <b className="block">{format.money(row.paid)} paid</b>
                    ) : null}
                  </td>
                  <td>
                    <Until row={row} />
                  </td>
                  <td className="text-small">
                    <Proofs row={row} />
                  </td>
                  <td>
                    {STATE_WORDS[row.state]}
                    {row.note ? (
                      <span className="block text-small text-ink2">{row.note}</span>
                    ) : null}
                  </td>
                  <td className="num">
                    <span className="flex justify-end gap-2">
                      <LinkButton href={`/api/claims/${row.id}/claim.pdf`} {...BESIDE}>
                        Paper
                      </LinkButton>
                      {owner ? <Button onClick={() => setSettling(row)}>Status</Button> : null}
                    </span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <Pager page={page} pages={list.data.pages} onPage={(now) => set({ page: String(now) })} />
      </div>
      {settling ? <ClaimSheet claim={settling} onClose={() => setSettling(null)} /> : null}
      {telling ? <AnswerSheet arrival={telling.arrival} onClose={() => setTelling(null)} /> : null}
    </>
  );
}

const over = (row: Claim) => (row.arrival.claim?.days_left ?? 0) < 0;

function Until({ row }: { row: Claim }) {
  const left = row.arrival.claim?.days_left ?? null;
  if (row.until === null) return <>no last day</>;
  if (row.state !== "open") return <>{dayWords(row.until)}</>;
  if (left !== null && left < 0)
    return (
      <span className="text-stop">
        <Mark kind="stop" /> over since {dayWords(row.until)}
      </span>
    );
  return (
    <span className={left !== null && left <= SOON ? "font-semibold text-mind" : ""}>
      {left !== null && left <= SOON ? <Mark kind="mind" /> : null} {dayWords(row.until)}
      {left !== null ? `, ${left === 0 ? "today" : `${many(left, "day")} left`}` : ""}
    </span>
  );
}

function Proofs({ row }: { row: Claim }) {
  const missing = row.arrival.claim?.missing ?? [];
  if (missing.length === 0) return <>all there</>;
  return (
    <span className={row.state === "open" ? "text-mind" : ""}>
      {row.state === "open" ? <Mark kind="mind" /> : null} missing: {missing.join(", ")}
    </span>
  );
}

function ClaimSheet({ claim, onClose }: { claim: Claim; onClose: () => void }) {
  const send = useMutation(saveClaim());
  const say = useToast();
  const [typed, setTyped] = useState({
    state: claim.state,
    amount: String(claim.amount),
    paid: claim.paid === null ? "" : String(claim.paid),
    reference: claim.reference,
    note: claim.note,
  });
  const set = (part: Partial<typeof typed>) => setTyped((now) => ({ ...now, ...part }));
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Claim for ${claim.arrival.number}`}
      description={`${claim.arrival.service_name}, ${claim.arrival.tracking}`}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          send.mutate(
            {
              id: claim.id,
              body: {
                ...typed,
                revision: claim.revision,
                made_on: claim.made_on,
                paid: typed.state === "paid" ? typed.paid || null : null,
              },
            },
            {
              onSuccess: (now) => {
                say(`The claim for ${now.arrival.number} is ${STATE_WORDS[now.state]}.`);
                onClose();
              },
            },
          );
        }}
      >
        <Choose
          label="Status"
          value={typed.state}
          options={Object.entries(STATE_WORDS).map(([value, text]) => ({ value, text }))}
          onPick={(state) => set({ state: state as Claim["state"] })}
        />
        <div className="grid grid-cols-2 gap-3">
          <Field
            label="Amount asked for"
            inputMode="decimal"
            value={typed.amount}
            onChange={(event) => set({ amount: event.target.value })}
          />
          {typed.state === "paid" ? (
            <Field
              label="Paid"
              inputMode="decimal"
              value={typed.paid}
              onChange={(event) => set({ paid: event.target.value })}
            />
          ) : null}
        </div>
        <Field
          label="The carrier's number for it"
          maxLength={60}
          value={typed.reference}
          onChange={(event) => set({ reference: event.target.value })}
        />
        <Field
          label="Note"
          maxLength={400}
          value={typed.note}
          onChange={(event) => set({ note: event.target.value })}
        />
        <SheetFoot error={send.error} action="Save" off={send.isPending} onCancel={onClose} />
      </form>
    </Sheet>
  );
}
