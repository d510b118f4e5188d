/** How many more of each product would go into the chosen container, and what stops the next one. */
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { planRoom } from "../../api/queries";
import { Sheet } from "../../ui/overlays";
import { ProblemNote, Waiting } from "../../ui/parts";

interface Props { orderId: number; open: boolean; onOpenChange: (open: boolean) => void }

export function RoomSheet({ orderId, open, onOpenChange }: Props) {
  return (
    <Sheet open={open} onOpenChange={onOpenChange} title="How many more fit?" description="Each product on its own, the others as they are. Postage is not looked at here.">
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
      {room.data.parcels.map((parcel, index) => <ParcelRoom key={index} parcel={parcel} name={room.data.parcels.length > 1 ? `Parcel ${index + 1}, in ${parcel.container}:` : `In ${parcel.container}:`} />)}
    </>
  );
}

function ParcelRoom({ parcel, name }: { parcel: Schemas["ParcelRoom"]; name: string }) {
  return (
    <>
      <p className="mt-3 text-ink2">{name}{parcel.lines.length === 0 ? " two cartons strapped together; nothing more is looked for." : ""}</p>
      <ul className="mt-2">
        {parcel.lines.map((line) => (
          <li key={line.sku} className="grid grid-cols-[1fr_auto] gap-x-4 border-t border-line py-3">
            <b>{line.name}</b>
            <span className="font-head text-[21px]">{line.more === 0 ? "none" : `${line.more} more`}</span>
            {line.limit ? <span className="col-span-2 text-small text-ink2">One more than that: {line.limit}</span> : null}
          </li>
        ))}
      </ul>
    </>
  );
}
