/** Words of trials. No DOM. */
import type { Schemas } from "../../api/client";

export type Place = Schemas["TrialIn"]["place"];

export const TRIAL_WORDS: Record<string, string> = {
  shake: "Shake it",
  flip: "Flip it over",
  drop: "Drop it",
  throw: "Throw it",
  posted: "Post it to a friend",
};

/** The server's own list; one it does not know is no type here. */
export const DROP_PLACES: readonly [Place, ...Place[]] = [
  "bottom",
  "corner at the bottom",
  "edge at the bottom",
  "long side",
  "short side",
  "top",
];
