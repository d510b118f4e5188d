/** How many more of each product would go into the chosen container, and what stops the next one. */
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { planRoom, planSpare } from "../../api/orders";
import { useFormat } from "../../app/session";
import { Sheet } from "../../ui/Sheet";
import { ProblemNote, Waiting } from "../../ui/parts";

interface Props {
  orderId: number;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}

export function RoomSheet({ orderId, open, onOpenChange }: Props) {
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title="How many more fit?"
      description="Each product on its own, the others as they are."
    >
      {open ? <Room orderId={orderId} /> : null}
    </Sheet>
  );
}

function Room({ orderId }: { orderId: number }) {
  const room = useQuery(planRoom(orderId));
  if (room.isPending) return <Waiting what="the packing" />;
  if (room.isError) return <ProblemNote error={room.error} />;
  return (
    <>
      <Spare orderId={orderId} />
      {room.data.parcels.map((parcel, index) => (
        <ParcelRoom
          key={index}
          parcel={parcel}
          name={
            room.data.parcels.length > 1
              ? `Parcel ${index + 1}, in ${parcel.container}:`
              : `In ${parcel.container}:`
          }
        />
      ))}
    </>
  );
}

/** For the shop page: what more ships for no more postage, each number planned in full. */
function Spare({ orderId }: { orderId: number }) {
  const format = useFormat();
  const spare = useQuery(planSpare(orderId));
  if (spare.isPending)
    return <Waiting what="what more would ship for: orders a unit larger are planned" />;
  if (spare.isError) return <ProblemNote error={spare.error} />;
  return (
    <>
      <p className="text-ink2">Shipped for no more postage, any carton:</p>
      <ul className="mt-1">
        {spare.data.lines.map((line) => (
          <li
            key={line.sku}
            className="grid grid-cols-[1fr_auto] gap-x-4 border-t border-line py-2"
          >
            <b>{line.name}</b>
            <span className="font-head text-[21px]">
              {line.for_nothing === 0 ? "none" : `${line.for_nothing} more`}
            </span>
            <span className="col-span-2 text-small text-ink2">
              {line.for_little > line.for_nothing
                ? `${line.for_little} more for ${format.money(line.little)}. `
                : ""}
              {line.then ? `One more than that: ${line.then}` : ""}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function ParcelRoom({ parcel, name }: { parcel: Schemas["ParcelRoom"]; name: string }) {
  return (
    <>
      <p className="mt-3 text-ink2">
        {name}
        {parcel.lines.length === 0
          ? " two cartons strapped together; nothing more is looked for."
          : ""}
      </p>
      <ul className="mt-2">
        {parcel.lines.map((line) => (
          <li
            key={line.sku}
            className="grid grid-cols-[1fr_auto] gap-x-4 border-t border-line py-3"
          >
            <b>{line.name}</b>
            <span className="font-head text-[21px]">
              {line.more === 0 ? "none" : `${line.more} more`}
            </span>
            {line.limit ? (
              <span className="col-span-2 text-small text-ink2">
                One more than that: {line.limit}
              </span>
            ) : null}
          </li>
        ))}
      </ul>
    </>
  );
}
