/** Words of trials. No DOM. */
export const TRIAL_WORDS: Record<string, string> = { shake: "Shake it", flip: "Flip it over", drop: "Drop it", throw: "Throw it", posted: "Post it to a friend" };

export const DROP_PLACES = ["bottom", "corner at the bottom", "edge at the bottom", "long side", "short side", "top"] as const;
