/** Keeps the screen on while hands are busy, where the browser can; given back when the screen is left. */
import { useEffect } from "react";

export function useAwake(): void {
  useEffect(() => {
    if (!("wakeLock" in navigator)) return undefined;
    let lock: WakeLockSentinel | null = null;
    let gone = false;
    const ask = async () => {
      if (document.visibilityState !== "visible") return;
      try {
        lock = await navigator.wakeLock.request("screen");
        if (gone) await lock.release();
      } catch {
        lock = null; // refused: the battery is low, or the browser does not allow it here; nothing depends on it
      }
    };
    // A lock ends when the page is hidden: ask again when it is seen.
    const seen = () => void ask();
    void ask();
    document.addEventListener("visibilitychange", seen);
    return () => {
      gone = true;
      document.removeEventListener("visibilitychange", seen);
      void lock?.release();
    };
  }, []);
}
