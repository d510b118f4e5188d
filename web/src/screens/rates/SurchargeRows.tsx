/** Surcharges of a service: what for, how much, and everything that must be so for it to be due. */
import { TypedField } from "../../ui/TypedField";
import { Fold } from "../../ui/Fold";
import { Pick } from "../../ui/Pick";
import {
  newSurcharge,
  type Condition,
  type ConditionRow,
  type ServiceRow,
  type SurchargeRow,
} from "./typedList";
import { changed, removed } from "./rows";
import { AddButton, RemoveButton } from "./sections";

const WORDS: Record<Condition, { text: string; asks?: string; hint?: string }> = {
  zones: { text: "to these zones", asks: "Zones" },
  formats: { text: "in these size classes", asks: "Codes of classes" },
  places: { text: "to these postcodes", asks: "Country and postcodes", hint: "ALM: OK, QH9" },
  season: { text: "in a season", asks: "Days", hint: "from 2026-11-15 until 2026-12-31" },
  arrives: { text: "when it arrives on", asks: "Weekdays", hint: "Sat, Sun" },
  goods: { text: "with these goods", asks: "Goods", hint: "live, plants" },
  weight_above_mg: { text: "heavier than", asks: "Weight" },
  longest_above_um: { text: "longest side over", asks: "Length" },
  second_above_um: { text: "second side over", asks: "Length" },
  thickness_above_um: { text: "thickness over", asks: "Length" },
  girth_above_um: { text: "girth over", asks: "Length" },
  length_plus_girth_above_um: { text: "length and girth over", asks: "Length" },
  sum_of_sides_above_um: { text: "sum of sides over", asks: "Length" },
  volume_above_cm3: { text: "volume over", asks: "Volume" },
  rigid: { text: "it does not bend" },
  home: { text: "to homes" },
  signature: { text: "with a signature" },
};
const ADD = "add";

interface Props {
  service: ServiceRow;
  set: (now: Partial<ServiceRow>) => void;
}

export function SurchargeRows({ service, set }: Props) {
  const rows = service.surcharges;
  const change = (at: number, now: Partial<SurchargeRow>) =>
    set({ surcharges: changed(rows, at, now) });
  return (
    <section className="mt-4" aria-label="Surcharges">
      {rows.map((row, at) => (
        <OneSurcharge
          key={at}
          row={row}
          at={at}
          onChange={(now) => change(at, now)}
          onRemove={() => set({ surcharges: removed(rows, at) })}
        />
      ))}
      <AddButton onClick={() => set({ surcharges: [...rows, newSurcharge()] })}>
        Add a surcharge
      </AddButton>
    </section>
  );
}

interface OneProps {
  row: SurchargeRow;
  at: number;
  onChange: (now: Partial<SurchargeRow>) => void;
  onRemove: () => void;
}

function OneSurcharge({ row, at, onChange, onRemove }: OneProps) {
  return (
    <div className="mt-2 border-t border-line pt-2">
      <div className="grid grid-cols-[minmax(0,2fr)_6rem_8rem_minmax(0,1fr)_auto] items-end gap-2">
        <TypedField values={row} name="name" set={onChange} label="Surcharge" maxLength={80} />
        <TypedField values={row} name="amount" set={onChange} label="Amount" inputMode="decimal" />
        <Pick
          label={`How surcharge ${at + 1} counts`}
          value={row.kind}
          options={[
            { value: "fixed", text: "fixed" },
            { value: "percent", text: "%" },
            { value: "per_weight", text: "per weight" },
          ]}
          onPick={(kind) => onChange({ kind: kind as SurchargeRow["kind"] })}
          className="min-h-10"
        />
        <Counted row={row} at={at} onChange={onChange} />
        <RemoveButton label={`Take the surcharge ${row.name} off`} onClick={onRemove} />
      </div>
      <Conditions row={row} at={at} onChange={onChange} />
      <Fold
        title="Least, most, group, tax"
        open={Boolean(row.least || row.most || row.group || row.tax)}
        className="mt-1"
      >
        <div className="grid grid-cols-4 gap-2">
          <TypedField values={row} name="least" set={onChange} label="At least" />
          <TypedField values={row} name="most" set={onChange} label="At most" />
          <TypedField
            values={row}
            name="group"
            set={onChange}
            label="Group: only the highest counts"
            placeholder="none"
            maxLength={30}
          />
          <TypedField
            values={row}
            name="tax"
            set={onChange}
            label="Tax of its own"
            unit="%"
            placeholder="as the service"
          />
        </div>
      </Fold>
    </div>
  );
}

/** What a percentage is of, or what weight the amount is for. */
function Counted({ row, at, onChange }: Omit<OneProps, "onRemove">) {
  if (row.kind === "percent")
    return (
      <Pick
        label={`What surcharge ${at + 1} is a part of`}
        value={row.of}
        options={[
          { value: "all", text: "of base and surcharges" },
          { value: "base", text: "of the base alone" },
        ]}
        onPick={(of) => onChange({ of: of as SurchargeRow["of"] })}
        className="min-h-10 w-full"
      />
    );
  if (row.kind === "per_weight")
    return (
      <TypedField
        values={row}
        name="each"
        set={onChange}
        label="For each begun"
        placeholder="1 kg"
      />
    );
  return <span />;
}

function Conditions({ row, at, onChange }: Omit<OneProps, "onRemove">) {
  const used = new Set(row.conditions.map((one) => one.what));
  const change = (index: number, value: string) =>
    onChange({
      conditions: row.conditions.map((one, n) => (n === index ? { ...one, value } : one)),
    });
  const free = (Object.keys(WORDS) as Condition[]).filter((what) => !used.has(what));
  return (
    <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-1">
      {row.conditions.map((one, index) => (
        <OneCondition
          key={one.what}
          one={one}
          onValue={(value) => change(index, value)}
          onRemove={() => onChange({ conditions: row.conditions.filter((_, n) => n !== index) })}
        />
      ))}
      <Pick
        label={`When surcharge ${at + 1} is due`}
        value={ADD}
        options={[
          { value: ADD, text: row.conditions.length === 0 ? "always" : "and only…" },
          ...free.map((what) => ({ value: what, text: WORDS[what].text })),
        ]}
        onPick={(what) =>
          what !== ADD &&
          onChange({ conditions: [...row.conditions, { what: what as Condition, value: "" }] })
        }
        className="min-h-10"
      />
    </div>
  );
}

function OneCondition({
  one,
  onValue,
  onRemove,
}: {
  one: ConditionRow;
  onValue: (value: string) => void;
  onRemove: () => void;
}) {
  const { text, asks, hint } = WORDS[one.what];
  return (
    <span className="flex items-end gap-1">
      {asks ? (
        <TypedField
          values={one}
          name="value"
          set={(now) => onValue(now.value)}
          label={`${text}: ${asks.toLowerCase()}`}
          placeholder={hint ?? ""}
          className="w-60"
        />
      ) : (
        <span className="flex min-h-10 items-center">{text}</span>
      )}
      <RemoveButton label={`Take the condition ${text} off`} onClick={onRemove} />
    </span>
  );
}
