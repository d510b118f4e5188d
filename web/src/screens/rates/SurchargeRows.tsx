/** Surcharges of a service: what for, how much, and when it is due. */
import { TypedField } from "../../ui/TypedField";
import { Button } from "../../ui/parts";
import { Pick } from "../../ui/Pick";
import { type Condition, type ServiceRow, type SurchargeRow } from "./typedList";

const CONDITIONS: { value: Condition; text: string; asks?: string }[] = [
  { value: "always", text: "always" },
  { value: "zones", text: "to these zones", asks: "Zones" },
  { value: "weight_above_mg", text: "heavier than", asks: "Weight" },
  { value: "longest_above_um", text: "longest side over", asks: "Length" },
  { value: "second_above_um", text: "second side over", asks: "Length" },
  { value: "length_plus_girth_above_um", text: "length and girth over", asks: "Length" },
  { value: "girth_above_um", text: "girth over", asks: "Length" },
  { value: "rigid", text: "it does not bend" },
  { value: "home", text: "to homes" },
  { value: "signature", text: "with a signature" },
];

interface Props {
  service: ServiceRow;
  set: (now: Partial<ServiceRow>) => void;
}

export function SurchargeRows({ service, set }: Props) {
  const rows = service.surcharges;
  const change = (at: number, now: Partial<SurchargeRow>) =>
    set({ surcharges: rows.map((row, n) => (n === at ? { ...row, ...now } : row)) });
  const add = () =>
    set({
      surcharges: [
        ...rows,
        { name: "", kind: "fixed", amount: "", condition: "always", value: "", was: null },
      ],
    });
  return (
    <section className="mt-4" aria-label="Surcharges">
      {rows.map((row, at) => {
        const asks = CONDITIONS.find((one) => one.value === row.condition)?.asks;
        return (
          <div
            key={at}
            className="mt-2 grid grid-cols-[minmax(0,2fr)_6rem_6.5rem_minmax(0,2fr)_minmax(0,1fr)_auto] items-end gap-2"
          >
            <TypedField
              values={row}
              name="name"
              set={(now) => change(at, now)}
              label="Surcharge"
              maxLength={80}
            />
            <TypedField
              values={row}
              name="amount"
              set={(now) => change(at, now)}
              label="Amount"
              inputMode="decimal"
            />
            <Pick
              label={`How surcharge ${at + 1} counts`}
              value={row.kind}
              options={[
                { value: "fixed", text: "fixed" },
                { value: "percent", text: "%" },
              ]}
              onPick={(kind) => change(at, { kind: kind as SurchargeRow["kind"] })}
              className="min-h-10"
            />
            <Pick
              label={`When surcharge ${at + 1} is due`}
              value={row.condition}
              options={
                row.condition === "kept"
                  ? [{ value: "kept", text: "as in the file" }, ...CONDITIONS]
                  : CONDITIONS
              }
              onPick={(condition) => change(at, { condition: condition as Condition, value: "" })}
              className="min-h-10 w-full"
            />
            {asks ? (
              <TypedField values={row} name="value" set={(now) => change(at, now)} label={asks} />
            ) : (
              <span />
            )}
            <Button
              kind="quiet"
              aria-label={`Take the surcharge ${row.name} off`}
              onClick={() => set({ surcharges: rows.filter((_, n) => n !== at) })}
            >
              ×
            </Button>
          </div>
        );
      })}
      <button type="button" className="min-h-10 text-action underline" onClick={add}>
        Add a surcharge
      </button>
    </section>
  );
}
