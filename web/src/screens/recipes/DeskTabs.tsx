/** The sides of the design desk, one key each. */
import { RoomTabs } from "../../app/RoomTabs";

import { useSession } from "../../app/session";

const SIDES = [
  { to: "/recipes", name: "Recipes" },
  { to: "/products", name: "Products" },
  { to: "/readiness", name: "Readiness" },
  { to: "/policies", name: "Policies" },
  { to: "/fits", name: "What fits" },
] as const;

export function DeskTabs() {
  const { sees_costs } = useSession();
  return (
    <RoomTabs
      label="Design desk"
      rooms={SIDES.filter((side) => sees_costs || side.to !== "/fits")}
    />
  );
}
