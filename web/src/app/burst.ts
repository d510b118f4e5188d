/** A scanner is a fast keyboard whose codes end in Enter: its keys are told from those of a hand. No DOM. */

/** Keys of a hand are further apart, those of a scanner are not. */
const BURST_MS = 45;
/** Shorter ones are a hand that was quick. */
const LEAST = 3;

export interface Burst {
  /** A key came. Returns whether it is taken: it is part of a code, or waits to be told apart. */
  key: (key: string) => boolean;
  /** Forget what waits. */
  stop: () => void;
}

/** ``onKeys``: keys that were a hand's after all, in their order; ``onCode``: a whole code. */
export function burst(
  onKeys: (keys: readonly string[]) => void,
  onCode: (code: string) => void,
): Burst {
  let held: string[] = [];
  let timer: ReturnType<typeof setTimeout> | null = null;
  const stop = () => {
    if (timer !== null) clearTimeout(timer);
    timer = null;
    held = [];
  };
  const letGo = () => {
    const keys = held;
    stop();
    if (keys.length > 0) onKeys(keys);
  };
  return {
    stop,
    key: (key) => {
      if (key === "Enter" && held.length >= LEAST) {
        const code = held.join("");
        stop();
        onCode(code);
        return true;
      }
      if (key.length !== 1 || key === " ") {
        letGo();
        return false;
      }
      held.push(key);
      if (timer !== null) clearTimeout(timer);
      timer = setTimeout(letGo, BURST_MS);
      return true;
    },
  };
}
