/** What a service covers, what more cover costs, and what it never covers. */
import { TypedField } from "../../ui/TypedField";
import { Choice, GoodsTicks, Grid, Section, type Part } from "./sections";
import type { CoverRow } from "./typedList";

const WAYS = {
  none: "no more",
  steps: "in even steps",
  tiers: "in tiers",
  percent: "as a percentage",
};

export function Cover({ service, set }: Part) {
  const more = (now: Partial<CoverRow>) => set({ more: { ...service.more, ...now } });
  const { way } = service.more;
  return (
    <Section title="Cover" open={way !== "none" || service.cover !== ""}>
      <Grid>
        <TypedField
          values={service}
          name="cover"
          set={set}
          label="Cover included, up to"
          inputMode="decimal"
          placeholder="0"
        />
        <Choice
          label="More cover"
          value={way}
          options={WAYS}
          onPick={(picked) => more({ way: picked })}
        />
        {way === "none" ? null : (
          <TypedField values={service.more} name="most" set={more} label="More cover, up to" />
        )}
        {way === "steps" ? (
          <>
            <TypedField values={service.more} name="each" set={more} label="Each step of cover" />
            <TypedField values={service.more} name="price" set={more} label="Each step costs" />
          </>
        ) : null}
        {way === "tiers" ? (
          <TypedField
            values={service.more}
            name="tiers"
            set={more}
            label="Tiers: up to, price"
            placeholder="100: 1.00; 500: 3.50"
          />
        ) : null}
        {way === "percent" ? (
          <>
            <TypedField
              values={service.more}
              name="percent"
              set={more}
              label="More cover costs"
              unit="%"
            />
            <Choice
              label="Percentage of"
              value={service.more.of}
              options={{ value: "all that is covered", excess: "what is above the included" }}
              onPick={(of) => more({ of })}
            />
            <TypedField
              values={service.more}
              name="least"
              set={more}
              label="More cover costs at least"
            />
          </>
        ) : null}
        {way === "none" ? null : (
          <TypedField
            values={service.more}
            name="tax"
            set={more}
            label="Tax on cover"
            unit="%"
            placeholder="as the service"
          />
        )}
        <TypedField values={service} name="claim" set={set} label="Claims within" unit="days" />
      </Grid>
      <GoodsTicks
        label="Never covers"
        value={service.excludes}
        onChange={(excludes) => set({ excludes })}
      />
    </Section>
  );
}
