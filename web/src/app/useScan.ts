/** Codes of a scanner, told from the keys of a hand while a screen that takes them is shown. */
import { useEffect, useRef } from "react";
import { flushSync } from "react-dom";
import { burst } from "./burst";
import { isTyping, pressed, useAllActions } from "./keys";

/** A code on the sheet of codes stands for a key: "KEY-SPACE". */
const KEY_CODE = /^KEY-(.+)$/i;

/** Codes of keys press them, all others are the screen's. */
export function useScan(onScan: (code: string) => void): void {
  const actions = useAllActions();
  const now = useRef({ onScan, actions });
  useEffect(() => {
    now.current = { onScan, actions };
  });
  useEffect(() => {
    const press = (key: string) => pressed(now.current.actions(), key);
    const scanned = burst(
      // Each key finds the screen as the one before it left it.
      (keys) => keys.forEach((key) => flushSync(() => void press(key))),
      (code) => {
        const key = KEY_CODE.exec(code)?.[1]?.toLowerCase();
        if (key !== undefined) press(key === "space" ? " " : key);
        else now.current.onScan(code);
      },
    );
    const listen = (event: KeyboardEvent) => {
      const free =
        !event.ctrlKey &&
        !event.metaKey &&
        !event.altKey &&
        !event.repeat &&
        !event.defaultPrevented &&
        !isTyping(event.target) &&
        !document.querySelector("[role=dialog]");
      if (!free) scanned.stop();
      // What is taken here is not the screen's as well: its own listener comes after this one.
      else if (scanned.key(event.key)) event.preventDefault();
    };
    window.addEventListener("keydown", listen, true);
    return () => {
      scanned.stop();
      window.removeEventListener("keydown", listen, true);
    };
  }, []);
}
