/** The fields of one change: what is about it, chosen from the workshop's own lists. */
import { useQuery } from "@tanstack/react-query";
import { supplies } from "../../api/cupboard";
import { charges } from "../../api/money";
import { choosing, tariffs } from "../../api/prices";
import { recipes } from "../../api/recipes";
import { useFormat } from "../../app/session";
import { askAbout } from "../../domain/numbers";
import { dayWords, SHORT_WEEKDAYS } from "../../domain/words";
import { Choose } from "../../ui/Choose";
import { Field, ProblemNote } from "../../ui/parts";
import { CHANGE_WORDS, emptyChange, type ChangeKind, type Typed } from "./asking";
import { USUAL_WEEKS } from "./words";

interface Props {
  typed: Typed;
  onChange: (typed: Typed) => void;
}

export function ChangeFields({ typed, onChange }: Props) {
  const set = (part: Partial<Typed>) => onChange({ ...typed, ...part });
  return (
    <div className="flex flex-col gap-3">
      <Choose
        label="What would be otherwise"
        value={typed.kind}
        options={Object.entries(CHANGE_WORDS).map(([value, text]) => ({ value, text }))}
        onPick={(kind) => onChange(emptyChange(kind as ChangeKind))}
      />
      <About typed={typed} set={set} />
    </div>
  );
}

type Set = (part: Partial<Typed>) => void;

function About({ typed, set }: { typed: Typed; set: Set }) {
  switch (typed.kind) {
    case "wage":
      return <Amount label="Wage an hour" typed={typed} set={set} />;
    case "without":
      return <Supply label="Which one" kinds={["carton", "mailer"]} typed={typed} set={set} />;
    case "supply_price":
      return (
        <>
          <Supply label="Which supply" kinds={[]} typed={typed} set={set} />
          <Amount label="It costs, for a piece, m², l or m" typed={typed} set={set} />
        </>
      );
    case "instead":
      return (
        <>
          <Supply label="In place of" kinds={[]} typed={typed} set={set} />
          <Supply label="Every recipe takes" kinds={[]} typed={typed} set={set} second />
        </>
      );
    case "new_carton":
      return <NewCarton typed={typed} set={set} />;
    case "price_list":
      return <Lists typed={typed} set={set} />;
    case "version":
    case "damage":
    case "minutes":
      return <OfRecipe typed={typed} set={set} />;
    case "charge":
      return <Charge typed={typed} set={set} />;
    case "services":
      return <Services typed={typed} set={set} />;
    case "send_days":
      return (
        <Ticks
          legend="Parcels leave on"
          options={SHORT_WEEKDAYS.map((text, at) => ({ value: String(at), text }))}
          chosen={typed.days.map(String)}
          onChange={(days) => set({ days: days.map(Number) })}
        />
      );
  }
}

function Amount({
  label,
  hint,
  typed,
  set,
}: {
  label: string;
  hint?: string;
  typed: Typed;
  set: Set;
}) {
  return (
    <Field
      label={label}
      hint={hint}
      inputMode="decimal"
      fault={askAbout(typed.number) || undefined}
      value={typed.number}
      onChange={(event) => set({ number: event.target.value })}
    />
  );
}

function Supply({
  label,
  kinds,
  typed,
  set,
  second = false,
}: {
  label: string;
  kinds: string[];
  typed: Typed;
  set: Set;
  second?: boolean;
}) {
  const list = useQuery(supplies());
  const rows = list.data?.results ?? [];
  const first = rows.find((row) => row.code === typed.code);
  const options = rows
    .filter((row) => kinds.length === 0 || kinds.includes(row.kind))
    .filter((row) => !second || (row.kind === first?.kind && row.code !== first.code))
    .map((row) => ({ value: row.code, text: `${row.code} ${row.name}` }));
  return (
    <>
      <ProblemNote error={list.error} />
      <Choose
        label={label}
        value={second ? typed.other : typed.code}
        options={options}
        onPick={(code) => set(second ? { other: code } : { code, other: "" })}
      />
    </>
  );
}

function NewCarton({ typed, set }: { typed: Typed; set: Set }) {
  const format = useFormat();
  const unit = format.imperial ? "in" : "mm";
  return (
    <>
      <div className="grid grid-cols-3 gap-3">
        {["Length inside", "Width inside", "Height inside"].map((label, at) => (
          <Field
            key={label}
            label={label}
            unit={unit}
            inputMode="decimal"
            value={typed.size[at] ?? ""}
            onChange={(event) =>
              set({ size: typed.size.map((side, n) => (n === at ? event.target.value : side)) })
            }
          />
        ))}
      </div>
      <Amount
        label="It costs"
        hint="Empty: what its board costs at your suppliers"
        typed={typed}
        set={set}
      />
    </>
  );
}

function Lists({ typed, set }: { typed: Typed; set: Set }) {
  const list = useQuery(tariffs());
  return (
    <>
      <ProblemNote error={list.error} />
      <Choose
        label="Which price list"
        value={typed.id}
        options={(list.data?.results ?? []).map((row) => ({
          value: String(row.id),
          text: `${row.carrier_name} ${row.version}, from ${dayWords(row.valid_from)}`,
        }))}
        onPick={(id) => set({ id })}
      />
    </>
  );
}

const RECIPE_NUMBERS: Partial<Record<ChangeKind, string>> = {
  version: "Version",
  damage: "Percent that break",
  minutes: "Percent of its minutes",
};

function OfRecipe({ typed, set }: { typed: Typed; set: Set }) {
  const list = useQuery(recipes());
  const rows = list.data?.results ?? [];
  const here = rows.find((row) => String(row.id) === typed.id);
  return (
    <>
      <ProblemNote error={list.error} />
      <Choose
        label="Which recipe"
        value={typed.id}
        options={rows.map((row) => ({ value: String(row.id), text: row.name }))}
        onPick={(id) => set({ id })}
      />
      <Amount
        label={RECIPE_NUMBERS[typed.kind] ?? ""}
        {...(typed.kind === "version" && here
          ? { hint: `Version ${here.version} is in use` }
          : typed.kind === "minutes"
            ? { hint: "100: as it is" }
            : {})}
        typed={typed}
        set={set}
      />
    </>
  );
}

function Charge({ typed, set }: { typed: Typed; set: Set }) {
  const found = useQuery(charges(USUAL_WEEKS));
  const kept = (found.data?.runs ?? []).filter((run) => run.policy_id !== null);
  return (
    <>
      <ProblemNote error={found.error} />
      <Choose
        label="By"
        value={typed.id}
        options={[
          { value: "", text: "One fee for every order" },
          ...kept.map((run) => ({ value: String(run.policy_id), text: run.name })),
        ]}
        onPick={(id) => set({ id, number: "" })}
      />
      {typed.id === "" ? <Amount label="Fee" typed={typed} set={set} /> : null}
    </>
  );
}

function Services({ typed, set }: { typed: Typed; set: Set }) {
  const found = useQuery(choosing());
  return (
    <>
      <ProblemNote error={found.error} />
      <Ticks
        legend="Only these; none ticked: all"
        options={(found.data?.services ?? []).map((one) => ({ value: one.code, text: one.name }))}
        chosen={typed.codes}
        onChange={(codes) => set({ codes })}
      />
    </>
  );
}

function Ticks({
  legend,
  options,
  chosen,
  onChange,
}: {
  legend: string;
  options: { value: string; text: string }[];
  chosen: string[];
  onChange: (chosen: string[]) => void;
}) {
  return (
    <fieldset>
      <legend className="text-small text-ink2">{legend}</legend>
      <div className="mt-1 flex flex-wrap gap-x-5">
        {options.map(({ value, text }) => (
          <label key={value} className="inline-flex min-h-10 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-action"
              checked={chosen.includes(value)}
              onChange={(event) =>
                onChange(
                  event.target.checked ? [...chosen, value] : chosen.filter((one) => one !== value),
                )
              }
            />
            {text}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
