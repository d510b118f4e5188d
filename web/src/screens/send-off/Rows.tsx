/** The parcels of one hand-over: what is not scanned first, since that is what is forgotten. */
import { Link } from "react-router";
import { useFormat } from "../../app/session";
import type { Schemas } from "../../api/client";
import { clockWords, minutesOf } from "../../domain/day";
import { Button, Mark } from "../../ui/parts";

type Parcel = Schemas["SendParcelOut"];

export function Rows({ parcels, onUndo }: { parcels: Parcel[]; onUndo: (id: number) => void }) {
  const open = parcels.filter((one) => one.state !== "counted");
  const counted = parcels.filter((one) => one.state === "counted");
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">Parcels of this hand-over</caption>
      <tbody>
        {open.map((one) => (
          <Open key={one.key} parcel={one} />
        ))}
        {counted.map((one) => (
          <Counted key={one.key} parcel={one} onUndo={onUndo} />
        ))}
      </tbody>
    </table>
  );
}

const name = (parcel: Parcel) =>
  parcel.parts > 1 ? `${parcel.number}, ${parcel.part} of ${parcel.parts}` : parcel.number;

const CELL = "border-b border-line py-2 pr-3 align-top";

function Open({ parcel }: { parcel: Parcel }) {
  const format = useFormat();
  const where =
    parcel.state === "ready"
      ? `closed ${parcel.at_s === null ? "" : clockWords(Math.max(0, parcel.at_s))}, not scanned`
      : parcel.state === "bench"
        ? `at the bench, ${minutesOf(parcel.seconds)} min to go`
        : `not begun, ${minutesOf(parcel.seconds)} min`;
  return (
    <tr className={parcel.state === "ready" ? "bg-soft" : ""}>
      <td className={`${CELL} w-7 pl-2`}>
        <Mark kind={parcel.state === "ready" ? "ok" : "mind"} />
      </td>
      <td className={CELL}>
        <Link
          className="font-semibold text-action hover:underline"
          to={parcel.parcel_id ? `/bench/${parcel.parcel_id}` : `/plan/${parcel.order_id}`}
        >
          {name(parcel)}
        </Link>
      </td>
      <td className={CELL}>
        {parcel.buyer}, <span className="text-ink2">{parcel.place}</span>
        <span className="block text-small text-ink2">
          {parcel.next_name
            ? `If it stays behind: ${parcel.next_name}, ${parcel.next_days === 0 ? "later the same day" : parcel.next_days === 1 ? "a day later" : `${parcel.next_days} days later`}`
            : "If it stays behind: no other hand-over takes it"}
        </span>
      </td>
      <td className={`${CELL} whitespace-nowrap text-right`}>{format.weight(parcel.weight_mg)}</td>
      <td className={`${CELL} whitespace-nowrap text-right font-semibold`} colSpan={2}>
        {where}
      </td>
    </tr>
  );
}

function Counted({ parcel, onUndo }: { parcel: Parcel; onUndo: (id: number) => void }) {
  const format = useFormat();
  return (
    <tr>
      <td className={`${CELL} w-7 pl-2`}>
        <Mark kind="done" />
      </td>
      <td className={`${CELL} font-semibold`}>{name(parcel)}</td>
      <td className={CELL}>
        {parcel.buyer}, <span className="text-ink2">{parcel.place}</span>
      </td>
      <td className={`${CELL} whitespace-nowrap text-right`}>{format.weight(parcel.weight_mg)}</td>
      <td className={`${CELL} whitespace-nowrap text-right text-ink2`}>
        {parcel.tracking} {parcel.at_s === null ? "" : clockWords(parcel.at_s)}
      </td>
      <td className={`${CELL} w-24 text-right`}>
        <Button
          kind="quiet"
          className="-my-1.5 min-h-9 px-2"
          aria-label={`Take ${parcel.number} off the count`}
          onClick={() => parcel.parcel_id && onUndo(parcel.parcel_id)}
        >
          Undo
        </Button>
      </td>
    </tr>
  );
}
