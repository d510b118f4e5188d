/** What the sections of a service are made of. */
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { SHORT_WEEKDAYS } from "../../domain/words";
import { Fold } from "../../ui/Fold";
import { Pick } from "../../ui/Pick";
import { Button } from "../../ui/parts";
import type { ServiceRow } from "./typedList";

export interface Part {
  service: ServiceRow;
  set: (now: Partial<ServiceRow>) => void;
}

/** A part most lists leave as it is: open when this one says something of it. */
export function Section(props: { title: string; open: boolean; children: ReactNode }) {
  return <Fold strong className="mt-3 border-t border-line pt-1" {...props} />;
}

export function Grid({ children }: { children: ReactNode }) {
  return <div className="grid grid-cols-4 items-end gap-3 max-md:grid-cols-2">{children}</div>;
}

export function Choice<Value extends string>({
  label,
  value,
  options,
  onPick,
}: {
  label: string;
  value: Value;
  options: Record<Value, string>;
  onPick: (value: Value) => void;
}) {
  return (
    <div>
      <p className="mb-1 text-small text-ink2">{label}</p>
      <Pick
        label={label}
        value={value}
        options={Object.entries<string>(options).map(([one, text]) => ({ value: one, text }))}
        onPick={(picked) => onPick(picked as Value)}
        className="min-h-10 w-full"
      />
    </div>
  );
}

export function RemoveButton({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <Button kind="quiet" aria-label={label} onClick={onClick}>
      ×
    </Button>
  );
}

export function AddButton({ children, onClick }: { children: ReactNode; onClick: () => void }) {
  return (
    <button type="button" className="min-h-10 text-action underline" onClick={onClick}>
      {children}
    </button>
  );
}

/** Several of a few; what is picked keeps the order they are offered in. */
function Ticks<Value extends string | number>({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: readonly { value: Value; text: string }[];
  value: readonly Value[];
  onChange: (now: Value[]) => void;
}) {
  return (
    <fieldset className="mt-2">
      <legend className="text-small text-ink2">{label}</legend>
      <div className="flex flex-wrap gap-x-3">
        {options.map((one) => (
          <label key={one.value} className="flex min-h-10 items-center gap-1.5 text-small">
            <input
              type="checkbox"
              className="size-4 accent-action"
              checked={value.includes(one.value)}
              onChange={({ target }) =>
                onChange(
                  options
                    .map((each) => each.value)
                    .filter((each) => (each === one.value ? target.checked : value.includes(each))),
                )
              }
            />
            {one.text}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

interface Ticked<Value> {
  label: string;
  value: readonly Value[];
  onChange: (now: Value[]) => void;
}

const WEEKDAYS = SHORT_WEEKDAYS.map((text, value) => ({ value, text }));

export const Weekdays = (props: Ticked<number>) => <Ticks options={WEEKDAYS} {...props} />;

const GOODS_WORDS: Record<Schemas["ServiceDoc"]["refuses"][number], string> = {
  food: "food",
  perishable: "perishable",
  live: "live",
  plants: "plants",
  frozen: "frozen",
  melts: "melting",
  glass: "glass",
  fragile: "fragile",
  liquids: "liquids",
  alcohol: "alcohol",
  batteries: "batteries",
  aerosols: "aerosols",
  restricted: "restricted",
  dry_ice: "dry ice",
};
const GOODS = Object.entries(GOODS_WORDS).map(([value, text]) => ({ value, text }));

export const GoodsTicks = (props: Ticked<string>) => <Ticks options={GOODS} {...props} />;
