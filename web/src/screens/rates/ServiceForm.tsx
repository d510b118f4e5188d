/** One service: its grid of prices, limits, surcharges, cover, days and cut-off. */
import { SHORT_WEEKDAYS } from "../../domain/words";
import { TypedField } from "../../ui/TypedField";
import { useFormat } from "../../app/session";
import { Pick } from "../../ui/Pick";
import { type ServiceRow } from "./typedList";
import { PriceGrid } from "./PriceGrid";
import { SurchargeRows } from "./SurchargeRows";

interface Props {
  service: ServiceRow;
  columns: string[];
  onChange: (now: ServiceRow) => void;
}

const TAPE = [
  { value: "never", text: "never over the label" },
  { value: "edges", text: "at the edges only" },
  { value: "over", text: "all over the label" },
];

export function ServiceForm({ service, columns, onChange }: Props) {
  const set = (now: Partial<ServiceRow>) => onChange({ ...service, ...now });
  const formats = (service.was?.formats as unknown[] | undefined) ?? [];
  return (
    <div className="mt-3">
      <div className="grid grid-cols-[minmax(0,2fr)_9rem_auto] items-end gap-4 max-md:grid-cols-1">
        <TypedField
          values={service}
          name="name"
          set={set}
          label="Name of the service"
          maxLength={80}
        />
        <TypedField values={service} name="cutOff" set={set} label="Cut-off" type="time" />
        <Moved service={service} set={set} />
      </div>
      {formats.length > 0 ? (
        <p className="mt-3 text-ink2">
          Its prices go by formats: they stay as they are here. Change them in the file.
        </p>
      ) : (
        <PriceGrid service={service} columns={columns} onChange={onChange} />
      )}
      <Limits service={service} set={set} />
      <SurchargeRows service={service} set={set} />
      <div className="mt-4 grid grid-cols-3 gap-3 max-md:grid-cols-2">
        <TypedField
          values={service}
          name="cover"
          set={set}
          label="Cover included, up to"
          inputMode="decimal"
          placeholder="0"
        />
        <TypedField
          values={service}
          name="coverEach"
          set={set}
          label="More cover: each"
          inputMode="decimal"
          placeholder="none"
        />
        <TypedField
          values={service}
          name="coverPrice"
          set={set}
          label="costs"
          inputMode="decimal"
        />
        <TypedField values={service} name="coverMost" set={set} label="up to" inputMode="decimal" />
        <TypedField
          values={service}
          name="tax"
          set={set}
          label="Tax on it all"
          inputMode="decimal"
          unit="%"
          placeholder="0"
        />
        <div>
          <p className="mb-1 text-small text-ink2">Tape</p>
          <Pick
            label="Tape"
            value={service.tape}
            options={TAPE}
            onPick={(tape) => set({ tape: tape as ServiceRow["tape"] })}
            className="min-h-10 w-full"
          />
        </div>
      </div>
    </div>
  );
}

interface Part {
  service: ServiceRow;
  set: (now: Partial<ServiceRow>) => void;
}

function Moved({ service, set }: Part) {
  return (
    <div role="group" aria-label="Days it is in transit">
      <p className="text-small text-ink2">In transit on</p>
      <div className="flex gap-x-2">
        {SHORT_WEEKDAYS.map((day, at) => (
          <label key={day} className="flex min-h-10 items-center gap-1 text-small">
            <input
              type="checkbox"
              className="size-4 accent-action"
              checked={service.moved.includes(at)}
              onChange={() =>
                set({
                  moved: service.moved.includes(at)
                    ? service.moved.filter((one) => one !== at)
                    : [...service.moved, at].sort((a, b) => a - b),
                })
              }
            />
            {day}
          </label>
        ))}
      </div>
    </div>
  );
}

function Limits({ service, set }: Part) {
  const { imperial } = useFormat();
  return (
    <div className="mt-4 grid grid-cols-4 gap-3 max-md:grid-cols-2">
      <TypedField
        values={service}
        name="heaviest"
        set={set}
        label="Heaviest"
        placeholder="no limit"
      />
      <TypedField
        values={service}
        name="longest"
        set={set}
        label="Longest side"
        placeholder="no limit"
      />
      <TypedField
        values={service}
        name="together"
        set={set}
        label="Length and girth"
        placeholder="no limit"
      />
      <TypedField
        values={service}
        name="divisor"
        set={set}
        label="Volume counts, divided by"
        placeholder="it does not"
        unit={imperial ? "cu in/lb" : "cm³/kg"}
      />
    </div>
  );
}
