/** What a coming price list changes for our own orders of the last weeks: the sum, and those most affected. */
import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { tariffEffect, tariffs } from "../../api/prices";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { dateWords, dayWords, many } from "../../domain/words";
import { Table } from "../../ui/list/Table";
import { PickRow } from "../../ui/PickRow";
import { Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { TryOnOrders } from "../../ui/TryOnOrders";
import { RatesTabs } from "./RatesTabs";

export function ComingScreen() {
  const list = useQuery(tariffs());
  const [params, setParams] = useSearchParams();
  const all = list.data?.results ?? [];
  const coming = all
    .filter((row) => row.state === "coming")
    .sort((a, b) => a.valid_from.localeCompare(b.valid_from));
  const rows = [
    ...coming,
    ...all.filter(
      (row) =>
        row.state === "current" &&
        all.some((other) => other.carrier === row.carrier && other.valid_from < row.valid_from),
    ),
  ];
  const at = Math.max(
    0,
    rows.findIndex((row) => String(row.id) === params.get("list")),
  );
  const here = rows[at];
  const go = (to: number) => {
    const row = rows[Math.min(Math.max(to, 0), rows.length - 1)];
    if (row) setParams({ list: String(row.id) }, { replace: true });
  };
  useActions([
    { key: "arrowright", label: "Next list", run: () => go(at + 1) },
    { key: "arrowleft", label: "List before", run: () => go(at - 1) },
  ]);
  if (list.isPending) return <Waiting what="your price lists" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  return (
    <>
      <RatesTabs />
      {here ? (
        <Effect
          key={here.id}
          row={here}
          rows={rows}
          onPick={(id) => setParams({ list: id }, { replace: true })}
        />
      ) : (
        <>
          <ScreenHead
            title="No coming price list"
            under="Import a carrier's next list before it is valid, and see here what it means for your orders"
          />
          <Empty title="Nothing changes">
            <Link className="text-action underline" to="/rates/tariffs">
              To the price lists
            </Link>
          </Empty>
        </>
      )}
    </>
  );
}

function Effect({
  row,
  rows,
  onPick,
}: {
  row: Schemas["TariffRow"];
  rows: Schemas["TariffRow"][];
  onPick: (id: string) => void;
}) {
  const format = useFormat();
  const found = useQuery(tariffEffect(row.id));
  const pick = (
    <PickRow
      className="flex flex-wrap gap-x-5 px-6"
      label="Price list"
      value={String(row.id)}
      options={rows.map((one) => ({
        value: String(one.id),
        text: `${one.carrier_name} ${one.version}, ${dayWords(one.valid_from)}`,
      }))}
      onPick={onPick}
    />
  );
  if (found.isPending)
    return (
      <>
        <ScreenHead title={`What ${row.carrier_name} ${row.version} changes`} />
        {pick}
        <Waiting what="every parcel of the last weeks, priced by both lists" />
      </>
    );
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  const { data } = found;
  const more = Number(data.after) - Number(data.before);
  return (
    <>
      <ScreenHead
        title={
          data.orders === 0
            ? "No orders in the last weeks to look at"
            : more === 0
              ? "It changes nothing for your orders"
              : `${format.money(Math.abs(more))} ${more > 0 ? "more" : "less"} on ${many(data.orders, "order")} of ${many(data.weeks, "week")}`
        }
        under={`When ${row.carrier_name} ${row.version} is valid, from ${dateWords(row.valid_from)}`}
      />
      {pick}
      <div className="mt-2 grid grid-cols-[minmax(0,1fr)_320px] border-t border-line bg-sheet max-lg:grid-cols-1">
        <div className="min-w-0 px-6 py-3">
          <h2 className="text-lead">
            {data.most.length === 0
              ? "No order is affected"
              : `The ${data.most.length} most affected`}
          </h2>
          {data.most.length > 0 ? <MostAffected rows={data.most} /> : null}
          <TryOnOrders change={{ kind: "price_list", id: row.id }}>
            Pack and send them again with this list
          </TryOnOrders>
        </div>
        <Sums data={data} />
      </div>
    </>
  );
}

type Affected = Schemas["ListEffect"]["most"][number];

function MostAffected({ rows }: { rows: readonly Affected[] }) {
  const format = useFormat();
  return (
    <Table
      className="mt-1"
      caption="Orders most affected"
      opens
      rows={rows}
      rowKey={(one) => one.order_id}
      columns={[
        {
          key: "order",
          name: "Order",
          cell: (one) => (
            <>
              <Link
                className="font-semibold text-action hover:underline"
                to={`/plan/${one.order_id}`}
              >
                {one.number}
              </Link>{" "}
              <span className="text-ink2">{one.buyer}</span>
            </>
          ),
        },
        { key: "service", name: "Sent with", cell: (one) => one.service },
        { key: "before", name: "Before", num: true, cell: (one) => format.money(one.before) },
        {
          key: "after",
          name: "Then",
          num: true,
          cell: (one) => (one.after === null ? <Stop words="refused" /> : format.money(one.after)),
        },
        {
          key: "change",
          name: "Change",
          num: true,
          className: "font-semibold",
          cell: (one) => format.signed(one.change),
        },
        {
          key: "best",
          name: "Your rules would then take",
          className: "pl-6!",
          cell: (one) =>
            one.best === null ? (
              <Stop words="nobody" />
            ) : one.best_service === one.service ? (
              <span className="text-ink2">the same</span>
            ) : (
              `${one.best_service}, ${format.money(one.best)}`
            ),
        },
      ]}
    />
  );
}

function Stop({ words }: { words: string }) {
  return (
    <>
      <Mark kind="stop" /> {words}
    </>
  );
}

function Sums({ data }: { data: Schemas["ListEffect"] }) {
  const format = useFormat();
  const [more, best] = [data.after, data.best].map((sum) => Number(sum) - Number(data.before));
  return (
    <dl className="border-l border-line px-6 py-3 max-lg:border-l-0 max-lg:border-t">
      {[
        ["Postage by the lists before", format.money(data.before)],
        [
          "By the new list, services as they are",
          `${format.money(data.after)} (${format.signed(more ?? 0)})`,
        ],
        [
          "By the new list, services chosen again",
          `${format.money(data.best)} (${format.signed(best ?? 0)})`,
        ],
        ["Orders more expensive", String(data.dearer)],
        ["Orders cheaper", String(data.cheaper)],
        ["Refused by their service", String(data.refused)],
        ["Parcels looked at", String(data.parcels)],
      ].map(([name, value]) => (
        <div key={name} className="flex justify-between gap-4 border-b border-line py-1.5">
          <dt className="text-ink2">{name}</dt>
          <dd className="whitespace-nowrap font-semibold">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
