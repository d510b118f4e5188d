/** What is left: a month's orders by size, what each came to, and the record of the one picked. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { closeMonth, moneyMonth, moneyMonths, moneyOrder, openMonth } from "../../api/money";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords, many } from "../../domain/words";
import { monthWords } from "../../domain/figures";
import { LeftDots } from "../../drawings/LeftDots";
import { useAddress } from "../../ui/list/useList";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { LeftBy } from "./LeftBy";
import { OrderRecord } from "./OrderRecord";
import { MoneyTabs } from "./Tabs";
import { sizeWords } from "./words";

type Month = Schemas["MoneyMonth"];

export function LeftScreen() {
  const months = useQuery(moneyMonths());
  const [params, set] = useAddress();
  // The newest month that is over tells most; while none is, the one under way.
  const newest = months.data?.months[1] ?? months.data?.months[0];
  const month = params.get("month") ?? newest?.month ?? "";
  const query = useQuery(moneyMonth(month));
  const data = query.data;
  const byLeft = [...(data?.dots ?? [])].sort((a, b) => Number(a.left) - Number(b.left));
  const picked = Number(params.get("order")) || (byLeft[0]?.order_id ?? 0);
  const at = byLeft.findIndex((one) => one.order_id === picked);
  const go = (to: string | null) => to !== null && set({ month: to, order: null });
  const pick = (index: number) => {
    const one = byLeft[Math.min(Math.max(index, 0), byLeft.length - 1)];
    if (one) set({ order: String(one.order_id) });
  };
  useActions([
    { key: "arrowleft", label: "Month before", run: () => go(data?.before ?? null) },
    { key: "arrowright", label: "Month after", run: () => go(data?.after ?? null) },
    { key: "j", label: "Next order", run: () => pick(at + 1) },
    { key: "k", label: "Order before", run: () => pick(at - 1) },
  ]);
  const order = useQuery(moneyOrder(picked));
  const failed = months.error ?? query.error;
  if (failed)
    return (
      <div className="p-6">
        <ProblemNote error={failed} />
      </div>
    );
  if (!months.data || !data) return <Waiting what="what is left" />;
  return (
    <>
      <MoneyTabs />
      <Head month={data} go={go} />
      <div className="grid grid-cols-[minmax(0,1fr)_430px] border-t border-line max-lg:grid-cols-1">
        <div className="min-w-0">
          <section className="bg-sheet px-6 py-4">
            <Dots month={data} picked={picked} onPick={(id) => set({ order: String(id) })} />
          </section>
          <section className="grid grid-cols-3 gap-6 border-t border-line px-6 py-4 max-lg:grid-cols-1">
            <LeftBy title="By channel" rows={data.channels} />
            <LeftBy title="By product" rows={data.products} />
            <LeftBy title="By zone" rows={data.zones} />
          </section>
        </div>
        <aside className="border-l border-line bg-sheet px-6 py-4 max-lg:border-l-0 max-lg:border-t">
          {order.data && data.dots.length > 0 ? <OrderRecord order={order.data} /> : null}
          <Months months={months.data.months} month={data.month} go={go} />
        </aside>
      </div>
    </>
  );
}

function Head({ month, go }: { month: Month; go: (to: string | null) => void }) {
  const format = useFormat();
  const owner = useSession().role === "owner";
  const navigate = useNavigate();
  const say = useToast();
  const close = useMutation({
    ...closeMonth(),
    onSuccess: (done) => say(`${monthWords(done.month)} is closed: its lines change no more.`),
  });
  const open = useMutation({
    ...openMonth(),
    onSuccess: (done) => say(`${monthWords(done.month)} is open again.`),
  });
  useActions([
    {
      key: "t",
      label: "Try another charge",
      run: () => void navigate("/money/charges"),
    },
  ]);
  const short = Number(month.postage_paid) - Number(month.postage_charged);
  const left = Number(month.left);
  const postage =
    short > 0
      ? `Postage cost ${format.money(short)} more than buyers paid`
      : short < 0
        ? `Buyers paid ${format.money(-short)} more than postage cost`
        : "Postage cost what buyers paid";
  return (
    <>
      <ScreenHead
        title={
          month.orders === 0 && left === 0
            ? `${monthWords(month.month)}: nothing was packed`
            : `${monthWords(month.month)}: ${left < 0 ? `${format.money(-left)} lost` : `${format.money(left)} left`}. ${postage}`
        }
        under={under(month, format.money)}
      >
        <span className="inline-flex items-center gap-1">
          <Button
            aria-label="Month before"
            hotkey="←"
            disabled={month.before === null}
            onClick={() => go(month.before)}
          />
          <Button
            aria-label="Month after"
            hotkey="→"
            disabled={month.after === null}
            onClick={() => go(month.after)}
          />
        </span>
        {owner && month.may_close ? (
          <Button disabled={close.isPending} onClick={() => close.mutate(month.month)}>
            Close the month
          </Button>
        ) : null}
        {owner && month.closed_at !== null && justClosed(month.closed_at) ? (
          <Button kind="quiet" disabled={open.isPending} onClick={() => open.mutate(month.month)}>
            Open again
          </Button>
        ) : null}
        <Button kind="next" hotkey="T" onClick={() => void navigate("/money/charges")}>
          Try another charge
        </Button>
      </ScreenHead>
      {(close.error ?? open.error) ? (
        <div className="px-6 pb-3">
          <ProblemNote error={close.error ?? open.error} />
        </div>
      ) : null}
    </>
  );
}

const DAY_MS = 86_400_000;
const justClosed = (at: string) => Date.now() - new Date(at).getTime() < DAY_MS;

function under(month: Month, money: (amount: string | number) => string): string {
  const parts = [
    month.lost > 0
      ? `${many(month.orders, "order")}, ${month.lost} of them at a loss, ${money(-Number(month.lost_sum))} together`
      : `${many(month.orders, "order")}, none at a loss`,
  ];
  if (Number(month.from_before) !== 0)
    parts.push(`${money(month.from_before)} of it came later for orders of other months`);
  if (month.closed_at)
    parts.push(`The month was closed on ${dayWords(month.closed_at)} by ${month.closed_by}`);
  else if (!month.over) parts.push("The month is under way");
  return parts.join(". ");
}

function Dots({
  month,
  picked,
  onPick,
}: {
  month: Month;
  picked: number;
  onPick: (id: number) => void;
}) {
  const format = useFormat();
  return (
    <>
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2 className="text-lead">What each order left, by its size</h2>
        <p className="text-small text-ink2">
          <span aria-hidden="true" className="mr-1 inline-block size-2 bg-ink" /> an order
          <span className="ml-4 text-mind">
            <Mark kind="mind" />
          </span>{" "}
          a loss
          <span
            aria-hidden="true"
            className="ml-4 mr-1 inline-block h-[3px] w-4 bg-ink align-middle"
          />{" "}
          the middle order
          {month.dots.some((one) => one.charged_later && Number(one.left) >= 0) ? (
            <>
              <span
                aria-hidden="true"
                className="ml-4 mr-1 inline-block size-2 bg-ink outline-[1.5px] outline-mind"
              />{" "}
              charged later
            </>
          ) : null}
        </p>
      </div>
      {month.dots.length === 0 ? (
        <Empty title="Nothing was packed in this month">
          When parcels are closed at the bench, what each order left stands here.
        </Empty>
      ) : (
        <LeftDots
          orders={month.dots.map((one) => ({
            id: one.order_id,
            number: one.number,
            units: one.units,
            left: Number(one.left),
            charged_later: one.charged_later,
          }))}
          groups={month.sizes.map((size) => ({
            name: sizeWords(size.units_from, size.units_to),
            orders: size.orders,
            left: Number(size.left),
            median: Number(size.median),
            holds: (units) =>
              units >= size.units_from && (size.units_to === null || units <= size.units_to),
          }))}
          picked={picked}
          onPick={onPick}
          money={format.money}
        />
      )}
      {Number(month.in_other_months) !== 0 ? (
        <p className="pt-1 text-small text-ink2">
          {format.signed(month.in_other_months)} of what these orders left falls in other months:
          refunds, claims and charges that came before or after this one.
        </p>
      ) : null}
    </>
  );
}

function Months({
  months,
  month,
  go,
}: {
  months: Schemas["MonthSum"][];
  month: string;
  go: (to: string) => void;
}) {
  const format = useFormat();
  return (
    <section className="mt-6">
      <h2 className="border-b border-line2 pb-1 text-lead">The months</h2>
      {months.map((one) => (
        <button
          key={one.month}
          type="button"
          aria-pressed={one.month === month}
          className={`flex min-h-10 w-full items-baseline gap-3 border-b border-line text-left hover:bg-ground ${one.month === month ? "font-semibold text-action" : ""}`}
          onClick={() => go(one.month)}
        >
          <span className="grow">{monthWords(one.month)}</span>
          <span className="text-small text-ink2">
            {many(one.orders, "order")}
            {one.closed ? ", closed" : ""}
          </span>
          <span className="w-24 text-right">
            {one.left === null ? "open" : format.money(one.left)}
          </span>
        </button>
      ))}
    </section>
  );
}
