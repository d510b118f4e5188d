/** What buyers pay: policies side by side over our own orders, a flat fee's line, a threshold's cost, the shop's table. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { charges, comparedCharges, deletePolicy, makeOurs } from "../../api/money";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { percent } from "../../domain/figures";
import { dayWords, many } from "../../domain/words";
import { FeeLine } from "../../drawings/FeeLine";
import { useAddress } from "../../ui/list/useList";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Field, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { ChargeSettingsSheet } from "./ChargeSettingsSheet";
import { LeftBy } from "./LeftBy";
import { PolicySheet } from "./PolicySheet";
import { ShopTable } from "./ShopTable";
import { MoneyTabs } from "./Tabs";
import { Thresholds } from "./Thresholds";
import { PERIODS_WEEKS, USUAL_WEEKS } from "./words";

type Charges = Schemas["ChargesOut"];
type Run = Schemas["PolicyRunOut"];

export function ChargesScreen() {
  const [params, set] = useAddress();
  const weeks = Number(params.get("weeks")) || USUAL_WEEKS;
  const query = useQuery(charges(weeks));
  const [trying, setTrying] = useState<Run | "new" | null>(null);
  const [settling, setSettling] = useState(false);
  const owner = useSession().role === "owner";
  useActions([
    { key: "n", label: "Try another charge", run: () => setTrying("new") },
    { key: "s", label: "Endings and assumptions", run: () => setSettling(true), off: !owner },
  ]);
  if (query.isPending) return <Waiting what="what buyers pay" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const data = query.data;
  return (
    <>
      <MoneyTabs />
      <Head data={data} onWeeks={(now) => set({ weeks: String(now) })}>
        {owner ? (
          <Button kind="quiet" hotkey="S" onClick={() => setSettling(true)}>
            Endings and assumptions
          </Button>
        ) : null}
        <Button kind="next" hotkey="N" onClick={() => setTrying("new")}>
          Try another charge
        </Button>
      </Head>
      {data.orders === 0 ? (
        <div className="border-t border-line bg-sheet">
          <Empty title="No order was sent in these weeks">
            When parcels have left, every way to charge postage is worked out on them here.
          </Empty>
        </div>
      ) : (
        <div className="grid grid-cols-[minmax(0,1fr)_430px] border-t border-line max-lg:grid-cols-1">
          <div className="min-w-0">
            <section className="bg-sheet px-6 py-4">
              <Policies data={data} owner={owner} onTry={setTrying} />
            </section>
            <section className="grid grid-cols-2 gap-8 border-t border-line px-6 py-4 max-lg:grid-cols-1">
              <Fee data={data} />
              <Thresholds data={data} />
            </section>
          </div>
          <aside className="border-l border-line bg-sheet px-6 py-4 max-lg:border-l-0 max-lg:border-t">
            <ShopTable data={data} />
            <Compared />
          </aside>
        </div>
      )}
      {trying ? (
        <PolicySheet
          weeks={weeks}
          data={data}
          begin={trying === "new" ? null : trying}
          onClose={() => setTrying(null)}
        />
      ) : null}
      {settling ? <ChargeSettingsSheet onClose={() => setSettling(false)} /> : null}
    </>
  );
}

function Head({
  data,
  onWeeks,
  children,
}: {
  data: Charges;
  onWeeks: (weeks: number) => void;
  children: React.ReactNode;
}) {
  const format = useFormat();
  const left = Number(data.as_charged.left);
  return (
    <ScreenHead
      title={
        data.orders === 0
          ? "What should buyers pay?"
          : left < 0
            ? `Postage cost ${format.money(-left)} more than buyers paid`
            : `Buyers paid ${format.money(left)} more than postage cost`
      }
      under={
        <>
          {many(data.orders, "order")} packed in the last{" "}
          <span className="whitespace-nowrap">
            {PERIODS_WEEKS.map((weeks) => (
              <button
                key={weeks}
                type="button"
                aria-pressed={weeks === data.weeks}
                className={`min-h-8 px-1.5 ${weeks === data.weeks ? "font-semibold text-action" : "underline"}`}
                onClick={() => onWeeks(weeks)}
              >
                {weeks}
              </button>
            ))}
          </span>{" "}
          weeks{data.picked_up ? `; ${many(data.picked_up, "order")} picked up, left out` : ""}
          {data.zones_of ? `. Zones are ${data.zones_of}'s` : ""}
        </>
      }
    >
      {children}
    </ScreenHead>
  );
}

/** Stands where a kept policy has its id. */
const AS_CHARGED = 0;

function Policies({
  data,
  owner,
  onTry,
}: {
  data: Charges;
  owner: boolean;
  onTry: (run: Run) => void;
}) {
  const format = useFormat();
  const [open, setOpen] = useState<number | null>(null);
  const [choosing, setChoosing] = useState<Run | null>(null);
  const rows = [{ ...data.as_charged, name: "As buyers were charged" }, ...data.runs].map(
    (run) => ({ run, key: run.policy_id ?? AS_CHARGED }),
  );
  const picked = rows.find(({ key }) => key === open)?.run;
  return (
    <>
      <table className="rule-table [&_td]:align-middle">
        <thead>
          <tr>
            <th>What buyers pay</th>
            <th className="num">Charged</th>
            <th className="num">Left</th>
            <th className="num">Middle order</th>
            <th className="num">9 of 10 between</th>
            <th className="num">Short</th>
            <th>
              <span className="sr-only">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ run, key }) => (
            <tr key={key} className={run.ours ? "bg-soft" : ""}>
              <td>
                <button
                  type="button"
                  className="min-h-9 text-left font-semibold text-action hover:underline"
                  aria-expanded={open === key}
                  onClick={() => setOpen(open === key ? null : key)}
                >
                  {run.name}
                </button>
                {run.ours ? (
                  <span className="block text-small">
                    ours since {dayWords(run.ours_from ?? "")}
                  </span>
                ) : run.ours_from ? (
                  <span className="block text-small text-ink2">
                    ours from {dayWords(run.ours_from)} on
                  </span>
                ) : null}
                {run.refused.length > 0 ? (
                  <span className="block text-small text-stop">
                    <Mark kind="stop" /> no charge for {many(run.refused.length, "order")}:{" "}
                    {run.refused.slice(0, 3).join(", ")}
                  </span>
                ) : null}
                {run.demand ? (
                  <span className="block text-small text-ink2">
                    if {run.demand.percent} % of {many(run.demand.orders, "buyer")} within{" "}
                    {format.money(run.demand.within)} fill up: {format.money(run.demand.more_goods)}{" "}
                    more goods, {format.money(run.demand.given_up)} less postage
                  </span>
                ) : null}
              </td>
              <td className="num">{format.money(run.charged)}</td>
              <td className={`num font-semibold ${Number(run.left) < 0 ? "text-stop" : ""}`}>
                {format.signed(run.left)}
              </td>
              <td className="num">{format.signed(run.median)}</td>
              <td className="num whitespace-nowrap">
                {format.signed(run.low)} to {format.signed(run.high)}
              </td>
              <td className="num">{run.short}</td>
              <td className="num">
                {key !== AS_CHARGED && owner ? (
                  <span className="flex justify-end gap-1">
                    <Button kind="quiet" onClick={() => onTry(run)}>
                      Change
                    </Button>
                    {run.ours ? null : <Button onClick={() => setChoosing(run)}>Make ours</Button>}
                  </span>
                ) : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-small text-ink2">
        Short: orders that cost more to post than their buyer paid. No buyer is assumed to order
        otherwise.
      </p>
      {picked ? <Groups run={picked} /> : null}
      {choosing ? <OursSheet run={choosing} onClose={() => setChoosing(null)} /> : null}
    </>
  );
}

function Groups({ run }: { run: Run }) {
  const format = useFormat();
  return (
    <section
      className="mt-4 grid grid-cols-2 gap-6 max-lg:grid-cols-1"
      aria-label={`${run.name}, in groups`}
    >
      <LeftBy title="By zone" rows={run.by_zone} />
      <LeftBy title="By units" rows={run.by_units} />
      <LeftBy title="By product" rows={run.by_product} />
      <table className="rule-table self-start">
        <thead>
          <tr>
            <th>Lost most</th>
            <th className="num">Paid</th>
            <th className="num">Left</th>
          </tr>
        </thead>
        <tbody>
          {run.worst.map((row) => (
            <tr key={row.order_id}>
              <td>
                <Link className="text-action underline" to={`/money?order=${row.order_id}`}>
                  {row.number}
                </Link>
              </td>
              <td className="num">{format.money(row.paid)}</td>
              <td className="num">{format.signed(row.left)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Fee({ data }: { data: Charges }) {
  const format = useFormat();
  if (data.break_even_fee === null) return null;
  const most = Number(data.fees.at(-1)?.fee ?? 0);
  const beyond = data.points.filter((one) => Number(one.paid) > most).length;
  return (
    <section>
      <h2 className="text-lead">Left on postage, by flat fee</h2>
      <FeeLine
        ends={data.fees.map((one) => ({ fee: Number(one.fee), left: Number(one.left) }))}
        even={Number(data.break_even_fee)}
        now={Number(data.as_charged.charged) / Math.max(1, data.orders)}
        nowLeft={Number(data.as_charged.left)}
        costs={data.points.map((one) => Number(one.paid))}
        money={format.money}
        signed={format.signed}
      />
      <p className="text-small text-ink2">
        Pale bars: what the {data.orders} cost to post
        {beyond > 0 ? `; ${beyond} cost more than ${format.money(most)}` : ""}.
      </p>
    </section>
  );
}

function OursSheet({ run, onClose }: { run: Run; onClose: () => void }) {
  const say = useToast();
  const [day, setDay] = useState(new Date().toISOString().slice(0, 10));
  const send = useMutation({
    ...makeOurs(),
    onSuccess: (done) => {
      say(
        done.ours_from
          ? `${done.name} is what buyers pay from ${dayWords(done.ours_from)} on.`
          : `${done.name} is not yours any more.`,
      );
      onClose();
    },
  });
  const gone = useMutation({
    ...deletePolicy(),
    onSuccess: (done) => {
      say(`${done.name} is deleted.`);
      onClose();
    },
  });
  const id = run.policy_id ?? 0;
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Charge by ${run.name}`}
      description="From that day on the charge of every new order is held against it."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          send.mutate({ id, from_day: day });
        }}
      >
        <Field
          label="From this day on"
          type="date"
          required
          value={day}
          onChange={(event) => setDay(event.target.value)}
        />
        <p className="text-small text-ink2">
          Put it into your shop on that day: Calm Cupboard does not change what the shop asks for.
        </p>
        <SheetFoot
          error={send.error ?? gone.error}
          action="Make it ours"
          off={send.isPending || gone.isPending}
          onCancel={onClose}
        >
          {run.ours_from ? (
            <Button onClick={() => send.mutate({ id, from_day: null })}>Not ours</Button>
          ) : null}
          <Button kind="stop" onClick={() => gone.mutate(id)}>
            Delete
          </Button>
        </SheetFoot>
      </form>
    </Sheet>
  );
}

function Compared() {
  const format = useFormat();
  const query = useQuery(comparedCharges());
  if (!query.data) return query.isError ? <ProblemNote error={query.error} /> : null;
  const { rows, name, since, looked_at } = query.data;
  return (
    <section className="mt-6">
      <h2 className="border-b border-line2 pb-1 text-lead">
        {name === ""
          ? "No policy is yours yet"
          : rows.length === 0
            ? "Every new order was charged so"
            : `${many(rows.length, "new order")} charged otherwise`}
      </h2>
      <p className="py-1 text-small text-ink2">
        {name === ""
          ? "Make one yours from a day on; then the charge of every new order is held against it."
          : `${name}, since ${dayWords(since ?? "")}; ${many(looked_at, "order")} looked at${looked_at > 0 ? `, ${percent(rows.length / looked_at)} otherwise` : ""}`}
      </p>
      <ul>
        {rows.slice(0, 12).map((row) => (
          <li key={row.order_id} className="flex gap-3 border-t border-line py-1.5">
            <Link className="font-semibold text-action" to={`/plan/${row.order_id}`}>
              {row.number}
            </Link>
            <span className="min-w-0 grow truncate text-ink2">{row.buyer}</span>
            <span className="whitespace-nowrap">
              {format.money(row.charged)},{" "}
              {row.policy === null ? "it has no charge" : `should ${format.money(row.policy)}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
