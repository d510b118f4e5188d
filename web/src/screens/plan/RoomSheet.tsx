/** How many more of each product would go into the chosen container, and what stops the next one. */
import { useQuery } from "@tanstack/react-query";
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
      <p className="text-ink2">In {room.data.container}:</p>
      <ul className="mt-2">
        {room.data.lines.map((line) => (
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
