/** Gathering a wave: everything to carry up, large, by shelf, ticked by finger, key or scanner. */
import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { gather } from "../../api/leaving";
import { useFormat } from "../../app/session";
import { many } from "../../domain/words";
import { BESIDE, Button, LinkButton, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { NoWave } from "../../ui/NoWave";
import { ScanField } from "../../ui/ScanField";
import { useGathering } from "./useGathering";

type Thing = Schemas["GatherThing"];
type Wave = Schemas["GatherOut"];

export function GatherScreen() {
  const [search] = useSearchParams();
  const keys = search.get("parcels") ?? "";
  const query = useQuery(gather(keys));
  if (keys === "") return <NoWave />;
  if (query.isPending) return <Waiting what="the wave" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  return <Gathering key={keys} keys={keys} wave={query.data} />;
}

function Gathering({ keys, wave }: { keys: string; wave: Wave }) {
  const { ticks, open, spots, busy, tick, start, scan, missing } = useGathering(keys, wave);
  const list = (title: string, rows: Thing[], counted: boolean) =>
    rows.length === 0 ? null : (
      <Section title={title}>
        {rows.map((one) => (
          <Line
            key={one.code}
            thing={one}
            ticked={ticks.has(one.code)}
            spots={spots}
            counted={counted}
            onTick={() => tick(one.code)}
            onMissing={(key) => {
              const parcel = wave.parcels.find((each) => each.key === key);
              if (parcel) missing({ order_id: parcel.order_id, what: one.name });
            }}
          />
        ))}
      </Section>
    );
  return (
    <>
      <ScreenHead
        title={
          open.length === 0 ? "All of it is on the table" : `${many(open.length, "thing")} to fetch`
        }
        under={wave.parcels
          .map(
            (one, index) =>
              `${index + 1}: ${one.number}${one.parts > 1 ? ` (${one.part} of ${one.parts})` : ""} ${one.buyer}`,
          )
          .join(", ")}
      >
        <LinkButton href={`/api/day/gather.pdf?parcels=${keys}&paper=a4`} {...BESIDE}>
          Print A4
        </LinkButton>
        <LinkButton href={`/api/day/gather.pdf?parcels=${keys}&paper=label`} {...BESIDE}>
          Print small
        </LinkButton>
        <Button
          kind={open.length === 0 ? "next" : "plain"}
          hotkey={open.length === 0 ? "↵" : "B"}
          disabled={busy}
          onClick={start}
        >
          To the bench
        </Button>
      </ScreenHead>
      <div className="bg-sheet px-6 pb-10 pt-4">
        <ScanField
          label="Scan a product, a supply or a shelf place"
          onCode={scan}
          onEmpty={() => open.length === 0 && start()}
        />
        {list("Goods", wave.goods, true)}
        {list("Make up", wave.containers, true)}
        {wave.rolls.length > 0 ? (
          <Section title="Cut">
            {wave.rolls.map((roll) => (
              <Roll
                key={roll.code}
                roll={roll}
                ticked={ticks.has(`cut ${roll.code}`)}
                onTick={() => tick(`cut ${roll.code}`)}
              />
            ))}
          </Section>
        ) : null}
        {list("Supplies", wave.supplies, false)}
        {list("Cards and inserts", wave.cards, true)}
        {wave.frozen.length > 0 ? (
          <Section title="Leave in the freezer until their step">
            {wave.frozen.map((thing) => (
              <li key={thing.code} className={`${ROW} min-h-[52px]`}>
                <span className="w-8 shrink-0" />
                <b className="w-12 shrink-0">{thing.place}</b>
                <span className="min-w-0 grow">{thing.name}</span>
                <b className="shrink-0 text-[26px]">{Number(thing.quantity)}</b>
              </li>
            ))}
          </Section>
        ) : null}
      </div>
    </>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h2 className="border-b-2 border-ink pb-1 text-lead">{title}</h2>
      <ul>{children}</ul>
    </section>
  );
}

const ROW = "flex items-center gap-4 border-b border-line text-bench";

function Line({
  thing,
  ticked,
  spots,
  counted,
  onTick,
  onMissing,
}: {
  thing: Thing;
  ticked: boolean;
  spots: ReadonlyMap<string, number>;
  counted: boolean;
  onTick: () => void;
  onMissing: (key: string) => void;
}) {
  const [asking, setAsking] = useState(false);
  const several = thing.per.length > 1;
  return (
    <li className={ROW}>
      <label className="flex min-h-[60px] min-w-0 grow cursor-pointer items-center gap-4 py-1.5">
        <input
          type="checkbox"
          className="size-8 shrink-0 accent-action"
          checked={ticked}
          onChange={onTick}
        />
        <b className="w-12 shrink-0">{thing.place}</b>
        <span className={`min-w-0 grow ${ticked ? "text-ink2" : ""}`}>
          {thing.name}
          <span className="block text-base text-ink2">
            {thing.code}
            {several && counted
              ? `, ${thing.per.map((one) => `${Number(one.quantity)} for ${spots.get(one.key) ?? "?"}`).join(", ")}`
              : ""}
          </span>
          {thing.short.length > 0 ? (
            <span className="block text-base text-stop">
              Too little for {thing.short.map((key) => spots.get(key)).join(", ")}
            </span>
          ) : null}
        </span>
        <b className="shrink-0 text-[26px]">
          {counted ? Number(thing.quantity) : thing.amount || Number(thing.quantity)}
        </b>
      </label>
      {asking ? (
        <span className="flex flex-wrap items-center justify-end gap-2 text-base">
          <span>Not there for</span>
          {thing.per.map((one) => (
            <Button key={one.key} className="min-h-11" onClick={() => onMissing(one.key)}>
              {spots.get(one.key)}
            </Button>
          ))}
          <Button kind="quiet" className="min-h-11" onClick={() => setAsking(false)}>
            Cancel
          </Button>
        </span>
      ) : (
        <Button
          kind="quiet"
          className="min-h-11 text-base"
          aria-label={`${thing.name} is not there`}
          onClick={() => setAsking(true)}
        >
          Not there
        </Button>
      )}
    </li>
  );
}

function Roll({
  roll,
  ticked,
  onTick,
}: {
  roll: Schemas["GatherRoll"];
  ticked: boolean;
  onTick: () => void;
}) {
  const format = useFormat();
  return (
    <li className={ROW}>
      <label className="flex min-h-[60px] grow cursor-pointer items-center gap-4 py-1.5">
        <input
          type="checkbox"
          className="size-8 shrink-0 accent-action"
          checked={ticked}
          onChange={onTick}
        />
        <b className="w-12 shrink-0">{roll.place}</b>
        <span className={`grow ${ticked ? "text-ink2" : ""}`}>
          {roll.name}
          <span className="block text-base text-ink2">
            {roll.cuts
              .map(
                (cut) =>
                  `${many(cut.count, "length")} of ${format.length(cut.length_um)}: ` +
                  cut.sheets
                    .map(
                      (one) =>
                        `${one.count} × ${format.length(one.length_um)} by ${format.length(one.width_um)}`,
                    )
                    .join(" and ") +
                  (cut.count > 1 ? " out of each" : ""),
              )
              .join("; ")}
            {roll.one_by_one > roll.lengths
              ? `. Together ${roll.one_by_one - roll.lengths} fewer than parcel by parcel`
              : ""}
          </span>
        </span>
        <b className="shrink-0 text-[26px]">{roll.lengths}</b>
      </label>
    </li>
  );
}
