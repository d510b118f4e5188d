/** The four sides of the design desk, one key each. */
import { RoomTabs } from "../../app/RoomTabs";

const SIDES = [
  { to: "/recipes", name: "Recipes" },
  { to: "/products", name: "Products" },
  { to: "/readiness", name: "Readiness" },
  { to: "/policies", name: "Policies" },
] as const;

export const DeskTabs = () => <RoomTabs label="Design desk" rooms={SIDES} />;
