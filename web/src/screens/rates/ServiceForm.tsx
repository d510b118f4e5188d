/** One service: its prices by size and weight, limits, surcharges, and everything else a list says of it. */
import { TypedField } from "../../ui/TypedField";
import { Pick } from "../../ui/Pick";
import { columnsOf, withColumns, type ServiceRow, type TypedList } from "./typedList";
import { LimitFields } from "./LimitFields";
import { Counts } from "./Counts";
import { Cover } from "./Cover";
import { Delivery, OwnZones } from "./Delivery";
import { Marks } from "./Marks";
import { Weekdays } from "./sections";
import { SizeClasses } from "./SizeClasses";
import { Sums } from "./Sums";
import { SurchargeRows } from "./SurchargeRows";

interface Props {
  service: ServiceRow;
  /** The list's zones: a service without its own has prices under these. */
  typed: Pick<TypedList, "zones" | "others">;
  onChange: (now: ServiceRow) => void;
}

const TAPE = [
  { value: "never", text: "never over the label" },
  { value: "edges", text: "at the edges only" },
  { value: "over", text: "all over the label" },
];

export function ServiceForm({ service, typed, onChange }: Props) {
  const columns = service.zones.length > 0 ? columnsOf(service) : columnsOf(typed);
  const set = (now: Partial<ServiceRow>) => {
    const next = { ...service, ...now };
    const after = next.zones.length > 0 ? columnsOf(next) : columnsOf(typed);
    onChange({ ...next, sizes: withColumns(next.sizes, columns, after) });
  };
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
        <Weekdays
          label="In transit on"
          value={service.moved}
          onChange={(moved) => set({ moved })}
        />
      </div>
      <LimitFields limits={service.limits} onChange={(limits) => set({ limits })} />
      <SizeClasses service={service} columns={columns} set={set} />
      <SurchargeRows service={service} set={set} />
      <Counts service={service} set={set} />
      <Cover service={service} set={set} />
      <Sums service={service} set={set} />
      <Delivery service={service} set={set} />
      <Marks service={service} set={set} />
      <OwnZones service={service} set={set} />
      <div className="mt-3 w-64">
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
  );
}
