/** The clock on the workshop's wall: as the server told it, moving on between two askings. */
import { useEffect, useState } from "react";

const TICK_MS = 5_000;

/** Seconds from midnight now; ``told_s`` is what the server said at ``told_at`` (ms). */
export function useNow(told_s: number | undefined, told_at: number): number {
  const [passed, setPassed] = useState(0);
  useEffect(() => {
    const tick = () => setPassed(Math.max(0, Date.now() - told_at));
    tick();
    const timer = window.setInterval(tick, TICK_MS);
    return () => window.clearInterval(timer);
  }, [told_at]);
  return (told_s ?? 0) + Math.floor(passed / 1000);
}
