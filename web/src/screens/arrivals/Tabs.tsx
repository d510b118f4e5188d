/** The rooms of arrivals: where it breaks, parcels, trials, claims, what carriers did, what was learned. */
import { useQuery } from "@tanstack/react-query";
import { arrivals, claims } from "../../api/arrivals";
import { RoomTabs } from "../../app/RoomTabs";
import { useSession } from "../../app/session";

export function ArrivalsTabs() {
  const who = useSession();
  const asked = useQuery(arrivals("ask", "", 1));
  const claimed = useQuery(claims(1));
  const open = claimed.data?.results.filter((one) => one.state === "open").length;
  const rooms = [
    { to: "/arrivals", name: "Where it breaks" },
    { to: "/arrivals/parcels", name: "Parcels", count: asked.data?.count },
    { to: "/arrivals/trials", name: "Trials" },
    { to: "/arrivals/claims", name: "Claims", count: open },
    { to: "/arrivals/carriers", name: "Carriers" },
    { to: "/arrivals/learned", name: "Learned" },
  ];
  return (
    <RoomTabs
      label="Arrivals"
      rooms={rooms.filter((room) => who.sees_costs || room.to !== "/arrivals/carriers")}
    />
  );
}
