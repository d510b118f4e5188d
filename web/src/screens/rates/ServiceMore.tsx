/** What a service counts, covers, takes off and hands over: the parts most lists leave as they are. */
import type { ReactNode } from "react";
import { useFormat } from "../../app/session";
import { SHORT_WEEKDAYS } from "../../domain/words";
import { Fold } from "../../ui/Fold";
import { Pick } from "../../ui/Pick";
import { Button } from "../../ui/parts";
import { TypedField } from "../../ui/TypedField";
import {
  newVolume,
  type CoverRow,
  type MarkRow,
  type ServiceRow,
  type TaxRow,
  type VolumeRow,
} from "./typedList";
import { ZoneRows } from "./ZoneRows";

export interface Part {
  service: ServiceRow;
  set: (now: Partial<ServiceRow>) => void;
}

const GOODS = [
  "food",
  "perishable",
  "live",
  "plants",
  "frozen",
  "melts",
  "glass",
  "fragile",
  "liquids",
  "alcohol",
  "batteries",
  "aerosols",
  "restricted",
];

function Grid({ children }: { children: ReactNode }) {
  return <div className="grid grid-cols-4 items-end gap-3 max-md:grid-cols-2">{children}</div>;
}

function Choice<Value extends string>({
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

const ROUNDED = { up: "up", nearest: "to the nearest" };

export function Counts({ service, set }: Part) {
  const change = (at: number, now: Partial<VolumeRow>) =>
    set({ volumes: service.volumes.map((row, n) => (n === at ? { ...row, ...now } : row)) });
  return (
    <Fold
      strong
      className="mt-3 border-t border-line pt-1"
      title="How size and weight count"
      open={service.volumes.length > 0 || Boolean(service.roundTo || service.least)}
    >
      {service.volumes.map((row, at) => (
        <Volume
          key={at}
          row={row}
          onChange={(now) => change(at, now)}
          onRemove={() => set({ volumes: service.volumes.filter((_, n) => n !== at) })}
        />
      ))}
      <button
        type="button"
        className="min-h-10 text-action underline"
        onClick={() => set({ volumes: [...service.volumes, newVolume()] })}
      >
        {service.volumes.length === 0
          ? "Volume counts"
          : "Another divisor, for other zones or sizes"}
      </button>
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
    </Fold>
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
      <Button kind="quiet" aria-label="Take this divisor off" onClick={onRemove}>
        ×
      </Button>
    </div>
  );
}

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
    <Fold
      strong
      className="mt-3 border-t border-line pt-1"
      title="Cover"
      open={way !== "none" || service.cover !== ""}
    >
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
          <TypedField values={service.more} name="most" set={more} label="up to" />
        )}
        {way === "steps" ? (
          <>
            <TypedField values={service.more} name="each" set={more} label="More cover: each" />
            <TypedField values={service.more} name="price" set={more} label="costs" />
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
            <TypedField values={service.more} name="percent" set={more} label="Costs" unit="%" />
            <Choice
              label="of"
              value={service.more.of}
              options={{ value: "all that is covered", excess: "what is above the included" }}
              onPick={(of) => more({ of })}
            />
            <TypedField values={service.more} name="least" set={more} label="At least" />
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
    </Fold>
  );
}

export function Sums({ service, set }: Part) {
  const change = (at: number, now: Partial<TaxRow>) =>
    set({ taxes: service.taxes.map((row, n) => (n === at ? { ...row, ...now } : row)) });
  const some =
    service.tax ||
    service.discount ||
    service.furtherPercent ||
    service.furtherOff ||
    service.totalTo;
  return (
    <Fold
      strong
      className="mt-3 border-t border-line pt-1"
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
        <TypedField values={service} name="furtherOff" set={set} label="less" placeholder="0" />
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
          <Button
            kind="quiet"
            aria-label="Take this tax off"
            onClick={() => set({ taxes: service.taxes.filter((_, n) => n !== at) })}
          >
            ×
          </Button>
        </div>
      ))}
      <button
        type="button"
        className="min-h-10 text-action underline"
        onClick={() =>
          set({ taxes: [...service.taxes, { percent: "", countries: "", zones: "" }] })
        }
      >
        Another tax for some places
      </button>
    </Fold>
  );
}

export function Delivery({ service, set }: Part) {
  return (
    <Fold
      strong
      className="mt-3 border-t border-line pt-1"
      title="Delivery"
      open={service.deliversTo !== "door" || service.handedOver.length > 0}
    >
      <div className="flex flex-wrap items-end gap-6">
        <div className="w-56">
          <Choice
            label="Handed over at"
            value={service.deliversTo}
            options={{ door: "the door", locker: "a locker", shop: "a shop" }}
            onPick={(deliversTo) => set({ deliversTo })}
          />
        </div>
        <Weekdays
          label="Only handed over on (none: whenever it moves)"
          value={service.handedOver}
          onChange={(handedOver) => set({ handedOver })}
        />
      </div>
    </Fold>
  );
}

export function Weekdays({
  label,
  value,
  onChange,
}: {
  label: string;
  value: readonly number[];
  onChange: (days: number[]) => void;
}) {
  return (
    <div role="group" aria-label={label}>
      <p className="text-small text-ink2">{label}</p>
      <div className="flex gap-x-2">
        {SHORT_WEEKDAYS.map((day, at) => (
          <label key={day} className="flex min-h-10 items-center gap-1 text-small">
            <input
              type="checkbox"
              className="size-4 accent-action"
              checked={value.includes(at)}
              onChange={() =>
                onChange(
                  value.includes(at)
                    ? value.filter((one) => one !== at)
                    : [...value, at].sort((a, b) => a - b),
                )
              }
            />
            {day}
          </label>
        ))}
      </div>
    </div>
  );
}

function GoodsTicks({
  label,
  value,
  onChange,
}: {
  label: string;
  value: readonly string[];
  onChange: (goods: string[]) => void;
}) {
  return (
    <fieldset className="mt-2">
      <legend className="text-small text-ink2">{label}</legend>
      <div className="flex flex-wrap gap-x-4">
        {GOODS.map((word) => (
          <label key={word} className="flex min-h-9 items-center gap-1.5 text-small">
            <input
              type="checkbox"
              className="size-4 accent-action"
              checked={value.includes(word)}
              onChange={() =>
                onChange(
                  value.includes(word) ? value.filter((one) => one !== word) : [...value, word],
                )
              }
            />
            {word}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

export function Marks({ service, set }: Part) {
  const change = (at: number, now: Partial<MarkRow>) =>
    set({ marks: service.marks.map((row, n) => (n === at ? { ...row, ...now } : row)) });
  return (
    <Fold
      strong
      className="mt-3 border-t border-line pt-1"
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
            <Button
              kind="quiet"
              aria-label={`Take the marking ${row.text} off`}
              onClick={() => set({ marks: service.marks.filter((_, n) => n !== at) })}
            >
              ×
            </Button>
          </div>
          <GoodsTicks
            label="when it holds one of"
            value={row.goods}
            onChange={(goods) => change(at, { goods })}
          />
        </div>
      ))}
      <button
        type="button"
        className="min-h-10 text-action underline"
        onClick={() =>
          set({
            marks: [...service.marks, { text: "", goods: [], heavier: "", longer: "", was: null }],
          })
        }
      >
        Add a marking
      </button>
    </Fold>
  );
}

export function OwnZones({ service, set }: Part) {
  return (
    <Fold
      strong
      className="mt-3 border-t border-line pt-1"
      title="Zones of its own"
      open={service.zones.length > 0}
    >
      <p className="text-small text-ink2">
        Only where this service knows other zones than the list. Its prices stand under these then.
      </p>
      <ZoneRows typed={service} onChange={set} own />
    </Fold>
  );
}
