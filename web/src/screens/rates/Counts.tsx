/** How size and weight count: divisors, rounding, the least that is billed. */
import { useFormat } from "../../app/session";
import { TypedField } from "../../ui/TypedField";
import { changed, removed } from "./rows";
import { AddButton, Choice, Grid, RemoveButton, Section, type Part } from "./sections";
import { newVolume, ROUNDED, type VolumeRow } from "./typedList";

export function Counts({ service, set }: Part) {
  const change = (at: number, now: Partial<VolumeRow>) =>
    set({ volumes: changed(service.volumes, at, now) });
  return (
    <Section
      title="How size and weight count"
      open={service.volumes.length > 0 || Boolean(service.roundTo || service.least)}
    >
      {service.volumes.map((row, at) => (
        <Volume
          key={at}
          row={row}
          onChange={(now) => change(at, now)}
          onRemove={() => set({ volumes: removed(service.volumes, at) })}
        />
      ))}
      <AddButton onClick={() => set({ volumes: [...service.volumes, newVolume()] })}>
        {service.volumes.length === 0
          ? "Volume counts"
          : "Another divisor, for other zones or sizes"}
      </AddButton>
      <Grid>
        <TypedField
          values={service}
          name="roundTo"
          set={set}
          label="Weights count in"
          placeholder="as they are"
        />
        <Choice
          label="Rounded"
          value={service.rounding}
          options={ROUNDED}
          onPick={(rounding) => set({ rounding })}
        />
        <TypedField
          values={service}
          name="least"
          set={set}
          label="No parcel counts as less than"
          placeholder="no least"
        />
      </Grid>
    </Section>
  );
}

function Volume({
  row,
  onChange,
  onRemove,
}: {
  row: VolumeRow;
  onChange: (now: Partial<VolumeRow>) => void;
  onRemove: () => void;
}) {
  const { imperial } = useFormat();
  return (
    <div className="mt-2 grid grid-cols-[repeat(6,minmax(0,1fr))_auto] items-end gap-2 max-lg:grid-cols-3">
      <TypedField
        values={row}
        name="divisor"
        set={onChange}
        label="Divided by"
        unit={imperial ? "cu in/lb" : "cm³/kg"}
      />
      <TypedField
        values={row}
        name="sides"
        set={onChange}
        label="Sides in whole"
        placeholder={imperial ? "0.39 in" : "1 cm"}
      />
      <Choice
        label="Rounded"
        value={row.rounding}
        options={ROUNDED}
        onPick={(rounding) => onChange({ rounding })}
      />
      <TypedField
        values={row}
        name="above"
        set={onChange}
        label="Only above"
        unit={imperial ? "cu in" : "cm³"}
        placeholder="always"
      />
      <TypedField values={row} name="zones" set={onChange} label="Zones" placeholder="all" />
      <TypedField
        values={row}
        name="formats"
        set={onChange}
        label="Codes of classes"
        placeholder="all"
      />
      <RemoveButton label="Take this divisor off" onClick={onRemove} />
    </div>
  );
}
