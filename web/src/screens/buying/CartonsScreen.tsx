/** Which cartons to keep: at most so many kinds for the orders of a period, what each is for, what another would save. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { beginCartons, cancelCartons, cartonReports } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useFormat, useSession } from "../../app/session";
import { many, momentWords } from "../../domain/words";
import { CostCurve } from "../../drawings/CostCurve";
import { Button, Empty, Field, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { TryOnOrders } from "../../ui/TryOnOrders";
import { UnderWay } from "../../ui/UnderWay";
import { CupboardTabs } from "../cupboard/Tabs";

type Report = Schemas["CartonReportOut"];
type Result = NonNullable<Report["result"]>;

export function CartonsScreen() {
  const query = useQuery(cartonReports());
  const owner = useSession().role === "owner";
  const [at, setAt] = useState<number | null>(null);
  if (query.isPending) return <Waiting what="the reports" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const reports = query.data.results;
  const running = reports.find((one) => one.state === "waiting" || one.state === "running");
  const done = reports.filter((one) => one.result !== null);
  const shown = done.find((one) => one.id === at) ?? done[0];
  return (
    <>
      <CupboardTabs />
      <ScreenHead title={title(shown)} under={<Under report={shown} />} />
      <div className="grid grid-cols-[minmax(0,1fr)_400px] border-t border-line max-lg:grid-cols-1">
        <div className="min-w-0 bg-sheet px-6 py-4">
          {running ? <Running report={running} owner={owner} /> : null}
          {shown?.result ? (
            <Kinds result={shown.result} />
          ) : running ? null : (
            <Empty title="Nothing was worked out yet">
              <p>
                Say how many kinds you would keep: each order of the last weeks is packed in every
                carton by the planner, and the kinds with the least cost are chosen.
              </p>
            </Empty>
          )}
        </div>
        <aside className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t">
          {owner ? <Ask busy={running !== undefined} /> : null}
          {shown?.result ? <Sums result={shown.result} /> : null}
          {done.length > 1 ? (
            <section className="mt-5">
              <h2 className="border-b border-line2 pb-1 text-lead">Reports</h2>
              {done.map((one) => (
                <button
                  key={one.id}
                  type="button"
                  aria-pressed={one.id === shown?.id}
                  className="block min-h-11 w-full border-b border-line text-left hover:bg-sheet"
                  onClick={() => setAt(one.id)}
                >
                  at most {one.at_most} of {one.weeks} weeks,{" "}
                  <span className="text-ink2">{momentWords(one.at)}</span>
                </button>
              ))}
            </section>
          ) : null}
        </aside>
      </div>
    </>
  );
}

function title(report: Report | undefined): string {
  const result = report?.result;
  if (!result) return "Which cartons to keep?";
  const kept = result.kinds.filter((one) => one.kept).length;
  const now = result.kinds.filter((one) => one.now).length;
  const saves = Number(result.now.total) - Number(result.then.total);
  return `${many(kept, "kind")} of carton do what ${now} do now${saves > 0 ? `, for ${saves.toFixed(2)} less` : ""}`;
}

function Under({ report }: { report: Report | undefined }) {
  if (!report?.result)
    return <>The orders of a period, each content in every carton, by the planner</>;
  const { result } = report;
  return (
    <>
      {many(result.parcels, "order")} of {report.weeks} weeks,{" "}
      {many(result.contents, "different content")};{" "}
      {result.proven ? "no choice of so many costs less" : "the best found in the time there was"}
    </>
  );
}

function Running({ report, owner }: { report: Report; owner: boolean }) {
  const cancel = useMutation(cancelCartons());
  return (
    <UnderWay
      job={report}
      what="contents worked out"
      cancel={cancel}
      {...(owner ? { onCancel: () => cancel.mutate(report.id) } : {})}
    />
  );
}

function Ask({ busy }: { busy: boolean }) {
  const [kinds, setKinds] = useState("8");
  const [weeks, setWeeks] = useState("10");
  const [own, setOwn] = useState(true);
  const begin = useMutation(beginCartons());
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        begin.mutate({ at_most: Number(kinds), weeks: Number(weeks), own_sizes: own });
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Kinds, at most"
          type="number"
          min={1}
          max={60}
          required
          value={kinds}
          onChange={(event) => setKinds(event.target.value)}
        />
        <Field
          label="Orders of the last weeks"
          type="number"
          min={1}
          max={104}
          required
          value={weeks}
          onChange={(event) => setWeeks(event.target.value)}
        />
      </div>
      <label className="inline-flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          className="size-5 accent-action"
          checked={own}
          onChange={(event) => setOwn(event.target.checked)}
        />
        also sizes made to measure for the contents that come most often
      </label>
      <ProblemNote error={begin.error} />
      <div>
        <Button type="submit" kind="next" disabled={busy || begin.isPending}>
          Work it out
        </Button>
      </div>
    </form>
  );
}

function Kinds({ result }: { result: Result }) {
  const format = useFormat();
  const kept = result.kinds.filter((one) => one.kept).sort((a, b) => b.parcels - a.parcels);
  const missed = result.kinds.filter((one) => one.now && !one.kept);
  return (
    <>
      <CostCurve
        curve={result.curve.map((one) => ({ ...one, total: Number(one.total) }))}
        chosen={kept.length}
        money={format.money}
      />
      <table className="rule-table mt-4">
        <thead>
          <tr>
            <th>Keep</th>
            <th className="num">Orders</th>
            <th>Used for</th>
            <th className="num">Without it</th>
          </tr>
        </thead>
        <tbody>
          {kept.map((one) => (
            <tr key={one.code}>
              <td>
                <b>{one.code}</b> {one.name}
                {one.own_size ? (
                  <span className="block text-small text-mind">
                    <Mark kind="mind" /> nobody sells it yet: ask a supplier
                  </span>
                ) : null}
              </td>
              <td className="num">{one.parcels}</td>
              <td className="text-small">{one.used_for.join("; ")}</td>
              <td className="num">
                {one.without_it === null ? "some fit none" : format.signed(one.without_it)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {missed.length > 0 ? (
        <section className="mt-4">
          <h2 className="text-lead">Nobody would miss</h2>
          <ul>
            {missed.map((one) => (
              <li key={one.code} className="flex flex-wrap items-center gap-x-4">
                <span>
                  <b>{one.code}</b> {one.name}
                </span>
                <TryOnOrders change={{ kind: "without", code: one.code }}>
                  What if it were gone
                </TryOnOrders>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      <TryOnOrders change={{ kind: "new_carton" }}>What if a new size were there</TryOnOrders>
      {result.in_none.length > 0 ? (
        <p className="mt-3 text-small text-ink2">
          <Mark kind="mind" /> No carton takes as one parcel:{" "}
          {result.in_none.slice(0, 12).join("; ")}
        </p>
      ) : null}
      {result.left_over.length > 0 ? (
        <p className="mt-3 text-small text-stop">
          <Mark kind="stop" /> None of these takes: {result.left_over.slice(0, 12).join("; ")}
        </p>
      ) : null}
    </>
  );
}

function Sums({ result }: { result: Result }) {
  const format = useFormat();
  const rows = [
    ["Postage", result.now.postage, result.then.postage],
    ["Materials", result.now.materials, result.then.materials],
    ["Keeping the kinds", result.now.keeping_cost, result.then.keeping_cost],
    ["All of it, with labour", result.now.total, result.then.total],
    ["Money in cartons on the shelf", result.now.asleep_cost, result.then.asleep_cost],
  ] as const;
  return (
    <table className="rule-table mt-5">
      <thead>
        <tr>
          <th>Over the period</th>
          <th className="num">Now</th>
          <th className="num">Then</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, now, then]) => (
          <tr key={name}>
            <td>{name}</td>
            <td className="num">{format.money(now)}</td>
            <td className="text-right font-semibold">{format.money(then)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
