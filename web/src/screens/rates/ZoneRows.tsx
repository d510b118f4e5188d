/** The zones of a price list: whole countries, or beginnings and ranges of postcodes, pasted as they are. */
import { Button, Field } from "../../ui/parts";
import type { TypedList, ZoneRow } from "./builder";

interface Props {
  typed: TypedList;
  onChange: (now: Partial<TypedList>) => void;
}

export function ZoneRows({ typed, onChange }: Props) {
  const set = (at: number, now: Partial<ZoneRow>) =>
    onChange({ zones: typed.zones.map((row, n) => (n === at ? { ...row, ...now } : row)) });
  const add = () => {
    const last = typed.zones.at(-1);
    const zone = String(Number(last?.zone ?? 0) + 1 || typed.zones.length + 1);
    onChange({
      zones: [...typed.zones, { zone, country: last?.country ?? "", places: "", was: null }],
    });
  };
  return (
    <section className="mt-4" aria-labelledby="zones">
      <h2 id="zones" className="text-[18px]">
        Zones
      </h2>
      <p className="text-small text-ink2">
        By the place a parcel goes to. Beginnings of postcodes such as AB, C1 or ranges such as
        10-19, pasted as they come; nothing: the whole country.
      </p>
      {typed.zones.map((row, at) => (
        <div
          key={at}
          className="mt-2 grid grid-cols-[5rem_5rem_minmax(0,1fr)_auto] items-end gap-3"
        >
          <Field
            label="Zone"
            maxLength={12}
            value={row.zone}
            onChange={(event) => set(at, { zone: event.target.value })}
          />
          <Field
            label="Country"
            maxLength={3}
            value={row.country}
            onChange={(event) => set(at, { country: event.target.value })}
          />
          <Field
            label="Postcodes"
            placeholder="all of it"
            value={row.places}
            onChange={(event) => set(at, { places: event.target.value })}
          />
          <Button
            kind="quiet"
            aria-label={`Take zone ${row.zone} off`}
            disabled={typed.zones.length === 1}
            onClick={() => onChange({ zones: typed.zones.filter((_, n) => n !== at) })}
          >
            ×
          </Button>
        </div>
      ))}
      <div className="mt-2 flex flex-wrap items-end gap-4">
        <Button onClick={add}>Add a zone</Button>
        <Field
          className="w-40"
          label="Every other place: zone"
          placeholder="none"
          maxLength={12}
          value={typed.others}
          onChange={(event) => onChange({ others: event.target.value })}
        />
      </div>
    </section>
  );
}
