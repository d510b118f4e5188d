/** Goods a service refuses, and what must stand on the parcel. */
import { TypedField } from "../../ui/TypedField";
import { changed, removed } from "./rows";
import { AddButton, GoodsTicks, RemoveButton, Section, type Part } from "./sections";
import type { MarkRow } from "./typedList";

export function Marks({ service, set }: Part) {
  const change = (at: number, now: Partial<MarkRow>) =>
    set({ marks: changed(service.marks, at, now) });
  return (
    <Section
      title="Goods it refuses, what must stand on the parcel"
      open={service.refuses.length > 0 || service.marks.length > 0}
    >
      <GoodsTicks
        label="Does not take"
        value={service.refuses}
        onChange={(refuses) => set({ refuses })}
      />
      {service.marks.map((row, at) => (
        <div key={at} className="mt-2 border-t border-line pt-2">
          <div className="grid grid-cols-[2fr_1fr_1fr_auto] items-end gap-2">
            <TypedField
              values={row}
              name="text"
              set={(now) => change(at, now)}
              label="Must stand on it"
              maxLength={80}
            />
            <TypedField
              values={row}
              name="heavier"
              set={(now) => change(at, now)}
              label="when heavier than"
              placeholder="any"
            />
            <TypedField
              values={row}
              name="longer"
              set={(now) => change(at, now)}
              label="when longer than"
              placeholder="any"
            />
            <RemoveButton
              label={`Take the marking ${row.text} off`}
              onClick={() => set({ marks: removed(service.marks, at) })}
            />
          </div>
          <GoodsTicks
            label="when it holds one of"
            value={row.goods}
            onChange={(goods) => change(at, { goods })}
          />
        </div>
      ))}
      <AddButton
        onClick={() =>
          set({
            marks: [...service.marks, { text: "", goods: [], heavier: "", longer: "", was: null }],
          })
        }
      >
        Add a marking
      </AddButton>
    </Section>
  );
}
