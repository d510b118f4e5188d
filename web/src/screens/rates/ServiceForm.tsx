/** One service: its grid of prices, limits, surcharges, cover, days and cut-off. */
import { useFormat } from "../../app/session";
import { Field } from "../../ui/parts";
import { Pick } from "../../ui/Pick";
import type { ServiceRow } from "./builder";
import { PriceGrid } from "./PriceGrid";
import { SurchargeRows } from "./SurchargeRows";

interface Props {
  service: ServiceRow;
  columns: string[];
  onChange: (now: ServiceRow) => void;
}

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
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
        <Field
          label="Name of the service"
          maxLength={80}
          value={service.name}
          onChange={(event) => set({ name: event.target.value })}
        />
        <Field
          label="Cut-off"
          type="time"
          value={service.cutOff}
          onChange={(event) => set({ cutOff: event.target.value })}
        />
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
        <Field
          label="Cover included, up to"
          inputMode="decimal"
          placeholder="0"
          value={service.cover}
          onChange={(event) => set({ cover: event.target.value })}
        />
        <Field
          label="More cover: each"
          inputMode="decimal"
          placeholder="none"
          value={service.coverEach}
          onChange={(event) => set({ coverEach: event.target.value })}
        />
        <Field
          label="costs"
          inputMode="decimal"
          value={service.coverPrice}
          onChange={(event) => set({ coverPrice: event.target.value })}
        />
        <Field
          label="up to"
          inputMode="decimal"
          value={service.coverMost}
          onChange={(event) => set({ coverMost: event.target.value })}
        />
        <Field
          label="Tax on it all"
          inputMode="decimal"
          unit="%"
          placeholder="0"
          value={service.tax}
          onChange={(event) => set({ tax: event.target.value })}
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
        {DAYS.map((day, at) => (
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
      <Field
        label="Heaviest"
        placeholder="no limit"
        value={service.heaviest}
        onChange={(event) => set({ heaviest: event.target.value })}
      />
      <Field
        label="Longest side"
        placeholder="no limit"
        value={service.longest}
        onChange={(event) => set({ longest: event.target.value })}
      />
      <Field
        label="Length and girth"
        placeholder="no limit"
        value={service.together}
        onChange={(event) => set({ together: event.target.value })}
      />
      <Field
        label="Volume counts, divided by"
        placeholder="it does not"
        unit={imperial ? "cu in/lb" : "cm³/kg"}
        value={service.divisor}
        onChange={(event) => set({ divisor: event.target.value })}
      />
    </div>
  );
}
