/** What a change does to plan, reservation and label: before beside after. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { countedNames } from "../../domain/words";
import { Mark } from "../../ui/parts";

type Sketch = Schemas["SketchOut"];

export function Effect({ effect }: { effect: Schemas["OrderEffectOut"] }) {
  const format = useFormat();
  const { before, after } = effect;
  const rows: [string, (one: Sketch) => string][] = [
    ["Parcel", (one) => countedNames(one.containers.map(String))],
    ["Weight", (one) => format.weight(one.gross_mg)],
    ["Service", (one) => one.service],
    ["Postage", (one) => format.money(one.postage)],
    ["In all", (one) => format.money(one.total)],
  ];
  const value = (one: Sketch | null, read: (one: Sketch) => string) =>
    one === null ? "not planned yet" : one.planned ? read(one) : "held";
  return (
    <div className="text-small">
      <table className="w-full">
        <thead>
          <tr className="text-left text-ink2">
            <th className="sr-only">What</th>
            <th className="font-normal">now</th>
            <th className="font-normal">then</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, read], at) => (
            <tr key={name} className="border-t border-line align-top">
              <th className="py-1 pr-3 text-left font-normal text-ink2">{name}</th>
              <td className="py-1 pr-3">{value(before, read)}</td>
              {after ? (
                <td className="py-1 font-semibold">{value(after, read)}</td>
              ) : at === 0 ? (
                <td className="py-1 font-semibold" rowSpan={rows.length}>
                  nothing is sent
                </td>
              ) : null}
            </tr>
          ))}
        </tbody>
      </table>
      {after && !after.planned ? (
        <p className="mt-1">
          <Mark kind="mind" /> {after.missing.map(String).join(" ")}
        </p>
      ) : null}
      {effect.shifts.length > 0 ? (
        <p className="mt-1 text-ink2">
          Promised:{" "}
          {effect.shifts
            .map(
              (one) =>
                `${one.name}: ${format.quantity(one.before, one.unit)} → ${format.quantity(one.after, one.unit)}`,
            )
            .join(", ")}
        </p>
      ) : null}
      {effect.label ? (
        <p className="mt-1">
          <Mark kind="mind" /> A label is bought: {effect.label}. It has to be cancelled.
        </p>
      ) : null}
    </div>
  );
}
