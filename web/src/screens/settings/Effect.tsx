/** What changed settings would do to open orders, and what was changed before. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { settingsHistory } from "../../api/account";
import { useFormat, useSession } from "../../app/session";
import { many, momentWords } from "../../domain/words";
import { Pages } from "../../ui/list/ListBar";
import { ProblemNote } from "../../ui/parts";
import { shownValue, unitOf } from "./values";

export function Effect({
  effect,
  error,
  working,
  count,
}: {
  effect: Schemas["SettingsEffectOut"] | undefined;
  error: Error | null;
  working: boolean;
  count: number;
}) {
  const format = useFormat();
  return (
    <>
      <h2 className="text-[21px] leading-tight">What it does</h2>
      {count === 0 ? (
        <p className="mt-1 text-ink2">
          Change a figure: open orders are planned with it here before anything is saved.
        </p>
      ) : null}
      <ProblemNote error={error} />
      {count > 0 && working && !effect ? <p role="status">Planning open orders.</p> : null}
      {effect ? (
        <div className={working ? "opacity-50" : ""} aria-live="polite">
          {effect.orders === 0 ? (
            <p className="mt-1">There is no open order to try it on.</p>
          ) : (
            <p className="mt-1">
              Of {many(effect.orders, "open order")},{" "}
              <b>{effect.changed === 0 ? "none changes" : `${effect.changed} change`}</b>.
            </p>
          )}
          {effect.changed > 0 ? (
            <dl className="mt-2">
              {[
                ["Total before", format.money(effect.before)],
                ["Total after", format.money(effect.after)],
                ["Difference", format.signed(Number(effect.after) - Number(effect.before))],
              ].map(([name, value]) => (
                <div key={name} className="flex justify-between border-t border-line py-1">
                  <dt className="text-ink2">{name}</dt>
                  <dd className="font-semibold">{value}</dd>
                </div>
              ))}
            </dl>
          ) : null}
          {effect.no_longer > 0 ? (
            <p className="mt-2 text-stop">
              {many(effect.no_longer, "order")} could no longer be packed.
            </p>
          ) : null}
          {effect.now_planned > 0 ? (
            <p className="mt-2">{many(effect.now_planned, "held order")} could be packed.</p>
          ) : null}
          {effect.left_out > 0 ? (
            <p className="mt-2 text-small text-ink2">
              The oldest {effect.orders}; {effect.left_out} more were not tried.
            </p>
          ) : null}
        </div>
      ) : null}
      <History />
    </>
  );
}

function History() {
  const { system } = useFormat();
  const { currency } = useSession();
  const [page, setPage] = useState(1);
  const list = useQuery(settingsHistory(page));
  const rows = list.data?.results ?? [];
  if (rows.length === 0) return null;
  return (
    <section className="mt-6" aria-label="Changed before">
      <h2 className="text-[18px]">Changed before</h2>
      <ul>
        {rows.map((row) => (
          <li key={row.id} className="border-t border-line py-1.5 text-small">
            {row.title}: {shownValue(row, row.before, system)} to{" "}
            <b>
              {shownValue(row, row.after, system)} {unitOf(row, system, currency)}
            </b>
            <span className="block text-ink2">
              {momentWords(row.at)}, {row.by}
            </span>
          </li>
        ))}
      </ul>
      <Pages page={page} pages={list.data?.pages ?? 1} onTurn={setPage} back="Newer" on="Older" />
    </section>
  );
}
