/** The sides of Rates, one key each. */
import { RoomTabs } from "../../app/RoomTabs";

const SIDES = [
  { to: "/rates", name: "What it costs" },
  { to: "/rates/tariffs", name: "Price lists" },
  { to: "/rates/coming", name: "What changes" },
  { to: "/rates/each", name: "Cost of each" },
  { to: "/rates/choosing", name: "How services are chosen" },
] as const;

export const RatesTabs = () => <RoomTabs label="Rates" rooms={SIDES} />;
