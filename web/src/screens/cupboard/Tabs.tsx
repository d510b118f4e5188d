/** The rooms of the cupboard: what stands there, what to buy, what is on its way, counting, what nobody needs. */
import { useQuery } from "@tanstack/react-query";
import { covers } from "../../api/buying";
import { RoomTabs } from "../../app/RoomTabs";

export function CupboardTabs() {
  const cover = useQuery(covers());
  return (
    <RoomTabs
      label="Cupboard"
      rooms={[
        { to: "/cupboard", name: "Shelves" },
        { to: "/buy", name: "To buy", count: cover.data?.to_buy },
        { to: "/purchases", name: "Ordered", count: cover.data?.orders_on_the_way },
        { to: "/count", name: "Count" },
        { to: "/asleep", name: "Money asleep" },
        { to: "/cartons", name: "Which cartons" },
      ]}
    />
  );
}
