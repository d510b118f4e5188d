/** How often parcels of each version arrive damaged, with the interval of the true rate; by what else, on asking. */
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Whisker } from "../../drawings/Whisker";
import { niceTop, ticksTo } from "../../drawings/scale";
import { fixed, monthWords, percent } from "../../domain/figures";
import { Pick } from "../../ui/Pick";
import { Mark } from "../../ui/parts";

type Damage = Schemas["RecipeDamageOut"];
type Counted = Schemas["CountedOut"];

const WIDE = 250;
const GROUPS: Record<Schemas["GroupOut"]["group"], string> = {
  version: "Version",
  product: "Product",
  band: "Order size",
  carrier: "Carrier",
  service: "Service",
  zone: "Zone",
  season: "Months",
  container: "Container",
  month: "Month",
};

interface Row {
  key: string;
  name: string;
  counted: Counted;
  now: boolean;
}

export function Rates({ damage }: { damage: Damage }) {
  const [by, setBy] = useState<string>("version");
  const rows: Row[] =
    by === "version"
      ? damage.runs.map((run) => ({
          key: String(run.first),
          name:
            run.first === run.last ? `Version ${run.first}` : `Versions ${run.first}–${run.last}`,
          counted: run.counted,
          now: run.current,
        }))
      : (damage.groups.find((one) => one.group === by)?.rows ?? []).map((row) => ({
          key: row.key,
          name: groupName(by, row.key),
          counted: row.counted,
          now: false,
        }));
  const top = Math.min(1, niceTop(Math.max(0.05, ...rows.map((row) => Number(row.counted.high)))));
  const ticks = ticksTo(top);
  return (
    <>
      <div className="flex items-center justify-between gap-4">
        <h2 className="text-lead">
          Damaged, of 100 sent{" "}
          <span className="text-small font-normal text-ink2">whiskers hold it 95 times in 100</span>
        </h2>
        <div className="flex shrink-0 items-center gap-2 text-small text-ink2">
          <span aria-hidden="true">by</span>
          <Pick
            className="min-h-9 w-32 text-base text-ink"
            label="By"
            value={by}
            options={["version", ...damage.groups.map((one) => one.group)].map((group) => ({
              value: group,
              text: GROUPS[group as keyof typeof GROUPS],
            }))}
            onPick={setBy}
          />
        </div>
      </div>
      <ul className="mt-3">
        {rows.map((row) => (
          <li
            key={row.key}
            className="grid grid-cols-[minmax(0,1fr)_250px_92px] items-center gap-3 py-1"
          >
            <span className="min-w-0">
              <b className={row.now ? "text-action" : ""}>{row.name}</b>
              <span className="block text-small text-ink2">
                {row.counted.damaged} of {row.counted.known}
                {row.counted.assumed > 0 ? `, ${row.counted.assumed} assumed whole` : ""}
              </span>
            </span>
            <Whisker
              share={row.counted.share === null ? null : Number(row.counted.share)}
              low={Number(row.counted.low)}
              high={Number(row.counted.high)}
              top={top}
              width={WIDE}
              ticks={ticks}
              tone={row.now ? "action" : "ink"}
              label={`${row.name}: ${row.counted.damaged} of ${row.counted.known} damaged`}
            />
            <span className="text-right">
              <b>{row.counted.share === null ? "–" : percent(Number(row.counted.share), 1)}</b>
              <span className="block text-small text-ink2">
                {fixed(100 * Number(row.counted.low), 1)} to{" "}
                {fixed(100 * Number(row.counted.high), 1)}
              </span>
            </span>
          </li>
        ))}
      </ul>
      <div className="grid grid-cols-[minmax(0,1fr)_250px_92px] gap-3" aria-hidden="true">
        <span />
        <span className="flex justify-between px-1 text-tiny text-ink2">
          {ticks.map((tick) => (
            <span key={tick}>{fixed(100 * tick)}</span>
          ))}
        </span>
      </div>
      <p className="mt-3">
        Plans count with <b>{percent(Number(damage.rate), 1)}</b>
        <span className="text-ink2">
          {" "}
          (before arrivals were counted {percent(Number(damage.prior), 1)}, weighing as 30 parcels)
        </span>
      </p>
      {by === "version" && overlap(damage) ? (
        <p className="mt-1.5 text-mind">
          <Mark kind="mind" /> The whiskers overlap: chance could explain the difference.{" "}
          <Link className="text-action underline" to={`/arrivals/trials?recipe=${damage.id}`}>
            Start a trial
          </Link>
        </p>
      ) : null}
    </>
  );
}

/** What a key of a group is called: "Nov 2026", "Sep to Nov", "wending, zone A". */
function groupName(by: string, key: string): string {
  if (by === "month") return monthWords(key);
  if (by === "season") {
    const [from, to] = key.split("-").map((month) => monthWords(`2026-${month}`).slice(0, 3));
    return `${from ?? ""} to ${to ?? ""}`;
  }
  const [first, rest] = key.split("/");
  if (by === "zone") return `${first ?? ""}, zone ${rest ?? ""}`;
  return rest ?? key;
}

/** Whether the version in use and the one before it may be as good as each other. */
function overlap(damage: Damage): boolean {
  const known = damage.runs.filter((run) => run.counted.known > 0);
  const now = known.find((run) => run.current);
  const other = known.filter((run) => !run.current).at(-1);
  if (!now || !other) return false;
  return (
    Number(now.counted.low) <= Number(other.counted.high) &&
    Number(other.counted.low) <= Number(now.counted.high)
  );
}
