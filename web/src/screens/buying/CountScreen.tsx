/** Counting shelves: one at a time, slot by slot, by scanner or keys; left and taken up again. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { beginCount, closeCount, countLine, countSession, countSessions } from "../../api/buying";
import { shelves, supplies } from "../../api/cupboard";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { many, momentWords, SHELF_WORDS } from "../../domain/words";
import type { StockUnit } from "../../domain/units";
import { useAddress } from "../../ui/list/useList";
import { ScanField } from "../../ui/ScanField";
import { BESIDE, Button, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import { CupboardTabs } from "../cupboard/Tabs";

type Session = Schemas["CountSessionOut"];
type Row = Schemas["CountRowOut"];

export function CountScreen() {
  const [params, set] = useAddress();
  const id = Number(params.get("count") ?? 0);
  return (
    <>
      <CupboardTabs />
      {id > 0 ? (
        <Counting key={id} id={id} onLeave={() => set({ count: null })} />
      ) : (
        <Shelves onOpen={(session) => set({ count: String(session) })} />
      )}
    </>
  );
}

function Shelves({ onOpen }: { onOpen: (id: number) => void }) {
  const say = useToast();
  const all = useQuery(supplies());
  const names = useQuery(shelves());
  const sessions = useQuery(countSessions());
  const begin = useMutation({
    ...beginCount(),
    onSuccess: (now) => onOpen(now.id),
    onError: (error) => say(error.message, "stop"),
  });
  if (!all.data || !sessions.data) return <Waiting what="the shelves" />;
  const letters = [...new Set(all.data.results.map((row) => row.shelf))];
  return (
    <>
      <ScreenHead
        title="Which shelf is counted?"
        under="The ledger's figure is shown after you have counted; a large difference is counted twice"
      />
      <ul className="border-t border-line bg-sheet px-6 py-2">
        {letters.map((letter) => {
          const mine = sessions.data.results.filter((one) => one.shelf === letter);
          const open = mine.find((one) => one.closed_at === null);
          const last = mine.find((one) => one.closed_at !== null);
          const slots = all.data.results.filter((row) => row.shelf === letter).length;
          return (
            <li
              key={letter}
              className="flex flex-wrap items-center gap-4 border-b border-line py-2 text-lead"
            >
              <b className="w-10">{letter}</b>
              <span className="grow">
                {names.data?.names[letter] ?? SHELF_WORDS[letter] ?? ""}{" "}
                <span className="text-base text-ink2">
                  {many(slots, "slot")}
                  {open ? `; ${open.done} of ${open.of} counted, begun by ${open.by}` : ""}
                  {!open && last?.closed_at ? `; last counted ${momentWords(last.closed_at)}` : ""}
                </span>
              </span>
              <a
                className="text-base text-action underline"
                href={`/api/counts/sheet.pdf?shelf=${letter}`}
                {...BESIDE}
              >
                sheet to print
              </a>
              <Button
                kind={open ? "next" : "plain"}
                className="min-h-12"
                disabled={begin.isPending}
                onClick={() => begin.mutate(letter)}
              >
                {open ? "Continue" : "Count it"}
              </Button>
            </li>
          );
        })}
      </ul>
    </>
  );
}

function Counting({ id, onLeave }: { id: number; onLeave: () => void }) {
  const query = useQuery(countSession(id));
  const say = useToast();
  const [at, setAt] = useState<number | null>(null);
  const close = useMutation({ ...closeCount(), onSuccess: onLeave });
  if (query.isPending) return <Waiting what="the count" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const session = query.data;
  const next = session.rows.find((row) => row.difference === null)?.supply_id ?? null;
  const here = at ?? next;
  return (
    <>
      <ScreenHead
        title={`Shelf ${session.shelf}: ${session.done} of ${session.of} counted`}
        under={`Begun by ${session.by}; leave it when you like, it is kept`}
      >
        <Button className="min-h-12" onClick={onLeave}>
          Leave it for now
        </Button>
        <Button
          kind={next === null ? "next" : "plain"}
          className="min-h-12"
          disabled={close.isPending}
          onClick={() => close.mutate(id)}
        >
          {next === null ? "All counted: finish" : "Finish the count"}
        </Button>
      </ScreenHead>
      <div className="border-t border-line bg-sheet px-6 py-4">
        <ScanField
          label="Scan a slot's code, or pick a line"
          onCode={(code) => {
            const row = session.rows.find((one) => one.code.toLowerCase() === code.toLowerCase());
            if (row) setAt(row.supply_id);
            else say(`${code} is not on shelf ${session.shelf}.`, "stop");
          }}
        />
        <ul className="mt-4">
          {session.rows.map((row) => (
            <Line
              key={row.supply_id}
              row={row}
              session={session}
              here={row.supply_id === here}
              onPick={() => setAt(row.supply_id)}
              onDone={() => setAt(null)}
            />
          ))}
        </ul>
      </div>
    </>
  );
}

function Line({
  row,
  session,
  here,
  onPick,
  onDone,
}: {
  row: Row;
  session: Session;
  here: boolean;
  onPick: () => void;
  onDone: () => void;
}) {
  const format = useFormat();
  const say = useToast();
  const unit = row.unit as StockUnit;
  const [typed, setTyped] = useState("");
  // One key for one amount: sent twice it is one entry, another amount is another.
  const key = useRef({ amount: "", key: "" });
  const count = useMutation({
    ...countLine(),
    onSuccess: (now) => {
      setTyped("");
      const mine = now.rows.find((one) => one.supply_id === row.supply_id);
      if (mine?.second_look)
        say(`${row.name}: that is far from the ledger. Count it once more.`, "stop");
      else onDone();
    },
    onError: (error) => say(error.message, "stop"),
  });
  return (
    <li
      className={`flex flex-wrap items-center gap-4 border-b border-line py-2 text-lead ${here ? "bg-soft" : ""}`}
    >
      <button
        type="button"
        className="flex min-h-11 min-w-0 grow items-center gap-4 text-left"
        onClick={onPick}
      >
        <span className="grid h-9 min-w-12 place-items-center rounded-part border border-ink px-1.5 font-semibold">
          {row.place}
        </span>
        <span>
          {row.name}
          {row.second_look ? (
            <b className="block text-base text-stop">
              <Mark kind="stop" /> {format.quantity(row.counted ?? 0, unit)}: far from the ledger,
              count it once more
            </b>
          ) : null}
        </span>
      </button>
      {row.difference !== null && !here ? (
        <span className="text-right">
          <b>{format.quantity(row.counted ?? 0, unit)}</b>
          <span className="block text-base text-ink2">
            {Number(row.difference) === 0
              ? "as the ledger says"
              : `${format.signedQuantity(row.difference, unit)} to the ledger`}
          </span>
        </span>
      ) : null}
      {here ? (
        <form
          className="flex items-center gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            const counted = format.toStock(typed, unit);
            if (key.current.amount !== counted || row.second_look)
              key.current = { amount: counted, key: crypto.randomUUID() };
            count.mutate({
              id: session.id,
              body: { supply_id: row.supply_id, counted, request_key: key.current.key },
            });
          }}
        >
          <input
            aria-label={`Counted, ${row.name}`}
            autoFocus
            inputMode="decimal"
            required
            className="min-h-12 w-28 rounded-part border border-line2 bg-ground px-3 text-bench"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          <span className="text-base text-ink2">{format.stockUnit(unit)}</span>
          <Button type="submit" kind="next" className="min-h-12" disabled={count.isPending}>
            Counted
          </Button>
        </form>
      ) : null}
    </li>
  );
}
