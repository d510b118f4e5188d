/** The rooms of money: what is left, what buyers pay, the record, what if. */
import { RoomTabs } from "../../app/RoomTabs";

const ROOMS = [
  { to: "/money", name: "What is left" },
  { to: "/money/charges", name: "What buyers pay" },
  { to: "/money/record", name: "The record" },
  { to: "/money/what-if", name: "What if" },
] as const;

export const MoneyTabs = () => <RoomTabs label="Money" rooms={ROOMS} />;
