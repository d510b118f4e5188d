/** The record: a month's lines by kind, as files for the books; fees and taxes they rest on. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { addFee, deleteFee, fees, moneyMonth, moneyMonths } from "../../api/money";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { fixed, monthWords } from "../../domain/figures";
import { numberText } from "../../domain/numbers";
import { dateWords, many } from "../../domain/words";
import { Choose } from "../../ui/Choose";
import { useAddress } from "../../ui/list/useList";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Field, LinkButton, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { MoneyTabs } from "./Tabs";
import { LINE_WORDS } from "./words";

type Fee = Schemas["FeeOut"];

const KINDS: Record<Fee["kind"], string> = {
  channel: "Channel's fee",
  payment: "Payment's fee",
  tax: "Tax, included",
};

export function RecordScreen() {
  const months = useQuery(moneyMonths());
  const [params, set] = useAddress();
  const month = params.get("month") ?? months.data?.months[0]?.month ?? "";
  const query = useQuery(moneyMonth(month));
  const list = useQuery(fees());
  const [adding, setAdding] = useState(false);
  const owner = useSession().role === "owner";
  useActions([{ key: "n", label: "New fee", run: () => setAdding(true), off: !owner }]);
  const failed = months.error ?? query.error ?? list.error;
  if (failed)
    return (
      <div className="p-6">
        <ProblemNote error={failed} />
      </div>
    );
  if (!query.data || !list.data || !months.data) return <Waiting what="the record" />;
  const data = query.data;
  return (
    <>
      <MoneyTabs />
      <ScreenHead
        title={`The record of ${monthWords(data.month)}`}
        under={`${many(data.orders, "order")} packed; ${data.closed_at ? "closed: its lines change no more" : "open: later lines may come"}`}
      >
        <Choose
          label="Month"
          value={data.month}
          options={months.data.months.map((one) => ({
            value: one.month,
            text: monthWords(one.month),
          }))}
          onPick={(now) => set({ month: now })}
        />
        <LinkButton
          className="self-end"
          href={`/api/money/months/${data.month}/record.csv`}
          download
        >
          Export CSV
        </LinkButton>
        <LinkButton
          className="self-end"
          href={`/api/money/months/${data.month}/record.json`}
          download
        >
          Export JSON
        </LinkButton>
      </ScreenHead>
      <div className="grid grid-cols-2 border-t border-line max-lg:grid-cols-1">
        <section className="bg-sheet px-6 py-4">
          <h2 className="text-lead">Where the money came from and went</h2>
          <Kinds data={data} />
        </section>
        <section className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t">
          <div className="flex items-end justify-between gap-3">
            <h2 className="text-lead">Fees and taxes</h2>
            {owner ? (
              <Button hotkey="N" onClick={() => setAdding(true)}>
                New fee
              </Button>
            ) : null}
          </div>
          <Fees rows={list.data.results} owner={owner} />
        </section>
      </div>
      {adding ? <FeeSheet rows={list.data.results} onClose={() => setAdding(false)} /> : null}
    </>
  );
}

const TURN = Object.keys(LINE_WORDS);
const inTurn = (a: { kind: string }, b: { kind: string }) =>
  TURN.indexOf(a.kind) - TURN.indexOf(b.kind);

function Kinds({ data }: { data: Schemas["MoneyMonth"] }) {
  const format = useFormat();
  if (data.kinds.length === 0)
    return (
      <Empty title="Nothing yet">
        When parcels are closed and labels bought, their lines stand here.
      </Empty>
    );
  const most = Math.max(...data.kinds.map((one) => Math.abs(Number(one.amount))));
  return (
    <table className="rule-table mt-1">
      <tbody>
        {[...data.kinds].sort(inTurn).map((one) => {
          const amount = Number(one.amount);
          return (
            <tr key={one.kind}>
              <td className="whitespace-nowrap">{LINE_WORDS[one.kind]}</td>
              <td className="w-full">
                <span className="grid grid-cols-2" aria-hidden="true">
                  <span className="flex justify-end border-r border-ink">
                    {amount < 0 ? (
                      <span
                        className="h-3.5 bg-level"
                        style={{ width: `${(-amount / most) * 100}%` }}
                      />
                    ) : null}
                  </span>
                  <span>
                    {amount > 0 ? (
                      <span
                        className="block h-3.5 bg-ink2"
                        style={{ width: `${(amount / most) * 100}%` }}
                      />
                    ) : null}
                  </span>
                </span>
              </td>
              <td className="num">{format.signed(one.amount)}</td>
            </tr>
          );
        })}
        <tr className="border-t-2 border-ink text-lead">
          <td colSpan={2}>
            <b>Left</b>
          </td>
          <td className="num font-semibold">{format.signed(data.left)}</td>
        </tr>
      </tbody>
    </table>
  );
}

function Fees({ rows, owner }: { rows: Fee[]; owner: boolean }) {
  const say = useToast();
  const format = useFormat();
  const gone = useMutation({ ...deleteFee(), onSuccess: () => say("Deleted.") });
  if (rows.length === 0)
    return (
      <Empty title="No fee yet">
        Say what a channel and the payment take of an order, and the tax in its price: without them
        every order seems to leave more than it does.
      </Empty>
    );
  return (
    <>
      <ProblemNote error={gone.error} />
      <table className="rule-table mt-1">
        <thead>
          <tr>
            <th>What</th>
            <th>Channel</th>
            <th>Takes</th>
            <th>Orders from</th>
            <th>
              <span className="sr-only">Delete</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <td>{KINDS[row.kind]}</td>
              <td>{row.channel || "every other"}</td>
              <td>
                {fixed(Number(row.percent), 0, 2)} %
                {row.kind === "tax"
                  ? " of goods and postage"
                  : row.of_postage
                    ? " of goods and postage"
                    : " of goods"}
                {Number(row.fixed) > 0 ? ` and ${format.money(row.fixed)}` : ""}
              </td>
              <td>{dateWords(row.from_day)}</td>
              <td className="num">
                {owner ? (
                  <Button
                    kind="quiet"
                    disabled={gone.isPending}
                    onClick={() => gone.mutate(row.id)}
                  >
                    Delete
                  </Button>
                ) : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-small text-ink2">
        The newest row that began by the day an order was placed holds for it. What a closed month
        has stays as it was.
      </p>
    </>
  );
}

function FeeSheet({ rows, onClose }: { rows: Fee[]; onClose: () => void }) {
  const say = useToast();
  const [typed, setTyped] = useState({
    kind: "channel" as Fee["kind"],
    channel: "",
    percent: "0",
    fixed: "0",
    of_postage: true,
    from_day: new Date().toISOString().slice(0, 10),
  });
  const set = (part: Partial<typeof typed>) => setTyped((now) => ({ ...now, ...part }));
  const save = useMutation({
    ...addFee(),
    onSuccess: () => {
      say("Saved. Records of open months are worked out again.");
      onClose();
    },
  });
  const known = [...new Set(rows.map((row) => row.channel).filter(Boolean))];
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title="New fee"
      description="From a day on; what held before stays for the orders before."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate({
            ...typed,
            channel: typed.channel.trim(),
            percent: numberText(typed.percent),
            fixed: typed.kind === "tax" ? "0" : numberText(typed.fixed),
          });
        }}
      >
        <Choose
          label="What"
          value={typed.kind}
          options={Object.entries(KINDS).map(([value, text]) => ({ value, text }))}
          onPick={(kind) => set({ kind: kind as Fee["kind"] })}
        />
        <Field
          label="Channel"
          hint={`Empty: every channel without a row of its own${known.length > 0 ? `. Known: ${known.join(", ")}` : ""}`}
          maxLength={30}
          value={typed.channel}
          onChange={(event) => set({ channel: event.target.value })}
        />
        <div className="grid grid-cols-2 gap-3">
          <Field
            label="Percent"
            unit="%"
            inputMode="decimal"
            required
            value={typed.percent}
            onChange={(event) => set({ percent: event.target.value })}
          />
          {typed.kind === "tax" ? null : (
            <Field
              label="And fixed, an order"
              inputMode="decimal"
              required
              value={typed.fixed}
              onChange={(event) => set({ fixed: event.target.value })}
            />
          )}
        </div>
        {typed.kind === "tax" ? null : (
          <label className="inline-flex min-h-9 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-action"
              checked={typed.of_postage}
              onChange={(event) => set({ of_postage: event.target.checked })}
            />
            of the postage the buyer paid too
          </label>
        )}
        <Field
          label="Orders placed from this day on"
          type="date"
          required
          value={typed.from_day}
          onChange={(event) => set({ from_day: event.target.value })}
        />
        <SheetFoot error={save.error} action="Save" off={save.isPending} onCancel={onClose} />
      </form>
    </Sheet>
  );
}
