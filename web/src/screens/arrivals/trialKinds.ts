/** What is done to the parcels of a trial, in words. No React. */
import type { Schemas } from "../../api/client";

export type TrialKind = Schemas["VersionTrialIn"]["kind"];

export const KIND_WORDS: Record<TrialKind, string> = {
  orders: "over real orders",
  shake: "shaken at the table",
  flip: "flipped at the table",
  drop: "dropped from the height for its weight",
  throw: "thrown",
  posted: "posted to a tester",
};
