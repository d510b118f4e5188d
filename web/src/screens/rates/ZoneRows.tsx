/** The zones of a price list: whole countries, or beginnings and ranges of postcodes, pasted as they are. */
import { TypedField } from "../../ui/TypedField";
import { Button } from "../../ui/parts";
import { type ZoneRow } from "./typedList";
import { changed, removed } from "./rows";

interface Zones {
  zones: ZoneRow[];
  others: string;
}

interface Props {
  typed: Zones;
  onChange: (now: Partial<Zones>) => void;
  /** Of one service: it may have none, then those of the list hold. */
  own?: boolean;
}

export function ZoneRows({ typed, onChange, own = false }: Props) {
  const set = (at: number, now: Partial<ZoneRow>) =>
    onChange({ zones: changed(typed.zones, at, now) });
  const add = () => {
    const last = typed.zones.at(-1);
    const zone = String(Number(last?.zone ?? 0) + 1 || typed.zones.length + 1);
    onChange({
      zones: [...typed.zones, { zone, country: last?.country ?? "", places: "", was: null }],
    });
  };
  return (
    <section className="mt-4" aria-label={own ? "Zones of this service" : "Zones"}>
      {own ? null : <h2 className="text-[18px]">Zones</h2>}
      <p className="text-small text-ink2">
        By the place a parcel goes to. Beginnings of postcodes such as AB, C1 or ranges such as
        10-19, pasted as they come; nothing: the whole country.
      </p>
      <table className="mt-2 w-full border-collapse">
        <thead>
          <tr className="text-left text-small text-ink2">
            <th scope="col" className="w-20 px-2 font-normal">
              Zone
            </th>
            <th scope="col" className="w-20 px-2 font-normal">
              Country
            </th>
            <th scope="col" className="px-2 font-normal">
              Postcodes
            </th>
            <td className="w-9" />
          </tr>
        </thead>
        <tbody>
          {typed.zones.map((row, at) => (
            <tr key={at} className="border border-line">
              <Cell
                label={`Zone, row ${at + 1}`}
                most={12}
                value={row.zone}
                onChange={(zone) => set(at, { zone })}
              />
              <Cell
                label={`Country, row ${at + 1}`}
                most={3}
                value={row.country}
                onChange={(country) => set(at, { country })}
              />
              <Cell
                label={`Postcodes, row ${at + 1}`}
                placeholder="all of it"
                value={row.places}
                onChange={(places) => set(at, { places })}
              />
              <td>
                <button
                  type="button"
                  aria-label={`Take zone ${row.zone} off`}
                  className="h-8 px-2.5 text-ink2 hover:text-ink disabled:opacity-40"
                  disabled={!own && typed.zones.length === 1}
                  onClick={() => onChange({ zones: removed(typed.zones, at) })}
                >
                  ×
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-2 flex flex-wrap items-end gap-4">
        <Button onClick={add}>Add a zone</Button>
        <TypedField
          values={typed}
          name="others"
          set={onChange}
          className="w-40"
          label="Every other place: zone"
          placeholder="none"
          maxLength={12}
        />
      </div>
    </section>
  );
}

function Cell({
  label,
  value,
  placeholder = "",
  most,
  onChange,
}: {
  label: string;
  value: string;
  placeholder?: string;
  most?: number;
  onChange: (value: string) => void;
}) {
  return (
    <td className="border-r border-line">
      <input
        aria-label={label}
        className="h-8 w-full min-w-0 bg-transparent px-2 outline-none focus:outline-2 focus:outline-action"
        placeholder={placeholder}
        {...(most === undefined ? {} : { maxLength: most })}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </td>
  );
}
