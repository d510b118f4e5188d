/** A carrier's own packages, some at one price whatever they weigh. */
import { TypedField } from "../../ui/TypedField";
import { Field } from "../../ui/parts";
import { type PackageRow, type TypedList } from "./typedList";
import { changed, removed } from "./rows";
import { AddButton, RemoveButton } from "./sections";

interface Props {
  typed: TypedList;
  onChange: (now: Partial<TypedList>) => void;
}

export function PackageRows({ typed, onChange }: Props) {
  const rows = typed.packages;
  const change = (at: number, now: Partial<PackageRow>) =>
    onChange({ packages: changed(rows, at, now) });
  const add = () =>
    onChange({
      packages: [
        ...rows,
        { name: "", code: "", size: "", services: [], price: "", heaviest: "", was: null },
      ],
    });
  return (
    <div className="mt-3">
      <p className="text-small text-ink2">
        Cartons and envelopes the carrier gives out, for its own services alone. With a price they
        are flat-rate: size and weight do not count up to the limit. A supply of the same code in
        your cupboard is this package.
      </p>
      {rows.map((row, at) => (
        <div
          key={at}
          className="mt-2 grid grid-cols-[minmax(0,2fr)_8rem_minmax(0,2fr)_6rem_7rem_auto] items-end gap-2"
        >
          <TypedField values={row} name="name" set={(now) => change(at, now)} label="Package" />
          <Field
            label="Code"
            value={row.code}
            disabled={row.was !== null}
            onChange={(event) => change(at, { code: event.target.value })}
          />
          <TypedField
            values={row}
            name="size"
            set={(now) => change(at, now)}
            label="Size inside"
            placeholder="30 x 20 x 10 cm"
          />
          <TypedField
            values={row}
            name="price"
            set={(now) => change(at, now)}
            label="Flat price"
            inputMode="decimal"
          />
          <TypedField values={row} name="heaviest" set={(now) => change(at, now)} label="Up to" />
          <RemoveButton
            label={`Take the package ${row.name} off`}
            onClick={() => onChange({ packages: removed(rows, at) })}
          />
        </div>
      ))}
      <AddButton onClick={add}>Add a package</AddButton>
    </div>
  );
}
