/** What becomes of the sum: tax, discount, further parcels, rounding. */
import { TypedField } from "../../ui/TypedField";
import { changed, removed } from "./rows";
import { AddButton, Choice, Grid, RemoveButton, Section, type Part } from "./sections";
import { ROUNDED, type TaxRow } from "./typedList";

export function Sums({ service, set }: Part) {
  const change = (at: number, now: Partial<TaxRow>) =>
    set({ taxes: changed(service.taxes, at, now) });
  const some =
    service.tax ||
    service.discount ||
    service.furtherPercent ||
    service.furtherOff ||
    service.totalTo;
  return (
    <Section
      title="Tax, discount, further parcels, rounding"
      open={Boolean(some) || service.taxes.length > 0}
    >
      <Grid>
        <TypedField
          values={service}
          name="tax"
          set={set}
          label="Tax on it all"
          unit="%"
          placeholder="0"
        />
        <TypedField
          values={service}
          name="discount"
          set={set}
          label="Your discount"
          unit="%"
          placeholder="none"
        />
        <Choice
          label="Discount on"
          value={service.discountOf}
          options={{ base: "the base price", all: "base and surcharges" }}
          onPick={(discountOf) => set({ discountOf })}
        />
        <TypedField
          values={service}
          name="furtherPercent"
          set={set}
          label="Further parcels of an order cost"
          unit="%"
          placeholder="100"
        />
        <TypedField
          values={service}
          name="furtherOff"
          set={set}
          label="Further parcels, less by"
          placeholder="0"
        />
        <TypedField
          values={service}
          name="totalTo"
          set={set}
          label="The sum is rounded to"
          placeholder="it is not"
        />
        <Choice
          label="Sum rounded"
          value={service.totalRounding}
          options={{ ...ROUNDED, down: "down" }}
          onPick={(totalRounding) => set({ totalRounding })}
        />
      </Grid>
      {service.taxes.map((row, at) => (
        <div key={at} className="mt-2 grid grid-cols-[8rem_1fr_1fr_auto] items-end gap-2">
          <TypedField
            values={row}
            name="percent"
            set={(now) => change(at, now)}
            label="Another tax"
            unit="%"
          />
          <TypedField
            values={row}
            name="countries"
            set={(now) => change(at, now)}
            label="to countries"
          />
          <TypedField values={row} name="zones" set={(now) => change(at, now)} label="to zones" />
          <RemoveButton
            label="Take this tax off"
            onClick={() => set({ taxes: removed(service.taxes, at) })}
          />
        </div>
      ))}
      <AddButton
        onClick={() =>
          set({ taxes: [...service.taxes, { percent: "", countries: "", zones: "" }] })
        }
      >
        Another tax for some places
      </AddButton>
    </Section>
  );
}
