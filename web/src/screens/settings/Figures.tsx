/** Every figure of judgement: what it is, why it begins so, where it counts; and what a change does to open orders. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { saveSettings, settings, settingsEffect } from "../../api/account";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { many } from "../../domain/words";
import { Button, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { TryOnOrders } from "../../ui/TryOnOrders";
import { useRested } from "../../ui/useRested";
import { useToast } from "../../ui/useToast";
import { Effect } from "./Effect";
import { GROUP_WORDS, isOrdinary, readValue, shownValue, unitOf, type Setting } from "./values";

type Typed = Record<string, string>;

export function Figures({ tabs, owner }: { tabs: ReactNode; owner: boolean }) {
  const list = useQuery(settings());
  if (list.isPending) return <Waiting what="the settings" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  return (
    <Table key={JSON.stringify(list.data)} rows={list.data.settings} tabs={tabs} owner={owner} />
  );
}

/** What was typed: values that are others than now, and what is wrong by name. */
function useTyped(rows: readonly Setting[]) {
  const { system } = useFormat();
  const [typed, setTyped] = useState<Typed>({});
  const changed: Record<string, string> = {};
  const faults: Record<string, string> = {};
  for (const row of rows) {
    const text = typed[row.name];
    if (text === undefined) continue;
    const read = readValue(row, text, system);
    if ("fault" in read) faults[row.name] = read.fault;
    else if (Number(read.value) !== Number(row.value)) changed[row.name] = read.value;
  }
  return { typed, setTyped, changed, faults };
}

function Table({
  rows,
  tabs,
  owner,
}: {
  rows: readonly Setting[];
  tabs: ReactNode;
  owner: boolean;
}) {
  const say = useToast();
  const { typed, setTyped, changed, faults } = useTyped(rows);
  const count = Object.keys(changed).length;
  const wrong = Object.keys(faults).length > 0;
  const save = useMutation({
    ...saveSettings(),
    onSuccess: () => say("Saved. Open orders are planned again."),
  });
  const rested = useRested(JSON.stringify(changed), 600);
  const asked = JSON.parse(rested) as Record<string, string>;
  const effect = useQuery(
    settingsEffect(owner && !wrong && Object.keys(asked).length > 0 ? asked : null),
  );
  const send = () => {
    if (count > 0 && !wrong && !save.isPending) save.mutate(changed);
  };
  useActions([{ key: "k", label: "Save settings", run: send, off: !owner || count === 0 }]);
  const own = rows.filter((row) => !isOrdinary(row)).length;
  return (
    <>
      {tabs}
      <ScreenHead
        title={
          own === 0 ? "Every figure is the ordinary one" : `${many(own, "figure")} of your own`
        }
        under="Figures nobody can prove: each has its reason, and you may judge otherwise"
      >
        <Button disabled={Object.keys(typed).length === 0} onClick={() => setTyped({})}>
          Undo changes
        </Button>
        <Button
          kind="next"
          hotkey="K"
          disabled={!owner || count === 0 || wrong || save.isPending}
          onClick={send}
        >
          Save settings
        </Button>
      </ScreenHead>
      <div className="grid grid-cols-[minmax(0,1fr)_320px] border-t border-line bg-sheet max-lg:grid-cols-1">
        <div className="min-w-0 px-6 py-3">
          <ProblemNote error={save.error} />
          {Object.entries(GROUP_WORDS).map(([group, words]) => (
            <Group
              key={group}
              title={words}
              rows={rows.filter((row) => row.group === group)}
              typed={typed}
              changed={changed}
              faults={faults}
              owner={owner}
              onType={(name, text) => setTyped((now) => ({ ...now, [name]: text }))}
            />
          ))}
        </div>
        <aside
          className="border-l border-line px-5 py-4 max-lg:border-l-0 max-lg:border-t"
          aria-label="What it does, and what was changed"
        >
          <Effect
            effect={count > 0 ? effect.data : undefined}
            error={effect.error}
            working={effect.isFetching}
            count={count}
          />
        </aside>
      </div>
    </>
  );
}

interface GroupProps {
  title: string;
  rows: readonly Setting[];
  typed: Typed;
  changed: Record<string, string>;
  faults: Record<string, string>;
  owner: boolean;
  onType: (name: string, text: string) => void;
}

function Group({ title, rows, typed, changed, faults, owner, onType }: GroupProps) {
  return (
    <section className="mb-4" aria-label={title}>
      <h2 className="text-[18px]">{title}</h2>
      {rows.map((row) => (
        <Row
          key={row.name}
          row={row}
          text={typed[row.name]}
          changed={row.name in changed}
          fault={faults[row.name]}
          owner={owner}
          onType={(text) => onType(row.name, text)}
        />
      ))}
    </section>
  );
}

function Row({
  row,
  text,
  changed,
  fault,
  owner,
  onType,
}: {
  row: Setting;
  text: string | undefined;
  changed: boolean;
  fault: string | undefined;
  owner: boolean;
  onType: (text: string) => void;
}) {
  const { system } = useFormat();
  const { currency } = useSession();
  const ordinary = shownValue(row, row.default, system);
  const unit = unitOf(row, system, currency);
  return (
    <div className="grid grid-cols-[minmax(0,1.1fr)_9.5rem_minmax(0,1.6fr)] items-center gap-4 border-t border-line py-1.5 max-md:grid-cols-1">
      <label htmlFor={`setting-${row.name}`} className={changed ? "font-semibold" : ""}>
        {row.title}
      </label>
      <span
        className={`flex items-center rounded-part border bg-sheet ${fault ? "border-stop" : changed ? "border-action" : "border-line2"}`}
      >
        <input
          id={`setting-${row.name}`}
          className="min-h-9 w-full min-w-0 bg-transparent px-2.5 text-right outline-none focus:outline-2 focus:outline-action"
          inputMode="decimal"
          disabled={!owner}
          aria-invalid={fault ? true : undefined}
          aria-describedby={`why-${row.name}`}
          value={text ?? shownValue(row, row.value, system)}
          onChange={(event) => onType(event.target.value)}
        />
        <span className="pr-2.5 text-small text-ink2">{unit}</span>
      </span>
      <span id={`why-${row.name}`} className="text-small text-ink2">
        {fault ? <b className="text-stop">{fault}. </b> : null}
        {isOrdinary(row) ? "" : `Ordinarily ${ordinary} ${unit}. `}
        {row.reason} <span className="text-ink">Counts in: {row.where}</span>
        {owner && text !== ordinary && (text !== undefined || !isOrdinary(row)) ? (
          <button
            type="button"
            className="ml-2 text-action underline"
            onClick={() => onType(ordinary)}
          >
            Back to {ordinary}
          </button>
        ) : null}
        {row.name === "wage_per_hour" ? (
          <span className="ml-3">
            <TryOnOrders
              change={{ kind: "wage", number: text ?? shownValue(row, row.value, system) }}
            >
              Try it on past orders
            </TryOnOrders>
          </span>
        ) : null}
      </span>
    </div>
  );
}
