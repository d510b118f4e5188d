/** Keys of a screen: each action has its key, its label and its effect in one object; `?` lists them. */
import { flushSync } from "react-dom";
import { burst } from "./burst";
import {
  createContext,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from "react";

export interface Action {
  key: string; // as in KeyboardEvent.key, lower case; " " is Space
  label: string;
  run: () => void;
  off?: boolean;
}

/** What a screen does with a code that was scanned. */
export type OnScan = (code: string) => void;

interface KeyBook {
  set: (id: symbol, actions: Action[]) => void;
  drop: (id: symbol) => void;
  all: () => Action[];
  setScan: (id: symbol, onScan: OnScan) => void;
  dropScan: (id: symbol) => void;
  /** Of the screen that takes codes, the last one shown; none: codes are keys like any. */
  onScan: () => OnScan | undefined;
}

/** A code on the sheet of codes stands for a key: "KEY-SPACE". */
const KEY_CODE = /^KEY-(.+)$/i;

const KeyContext = createContext<KeyBook | null>(null);

const NAMES: Record<string, string> = {
  " ": "Space",
  arrowdown: "↓",
  arrowup: "↑",
  arrowleft: "←",
  arrowright: "→",
  backspace: "Backspace",
  enter: "Enter",
  escape: "Esc",
};
export const keyName = (key: string): string =>
  NAMES[key] ?? (key.length === 1 ? key.toUpperCase() : key);

function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName);
}

/** Space and Enter on something pressable belong to it, not to the screen. */
function isPressing(event: KeyboardEvent): boolean {
  if (event.key !== " " && event.key !== "Enter") return false;
  return (
    event.target instanceof HTMLElement &&
    event.target.closest("button, a, [role=button], [role=tab], [role=menuitem], summary") !== null
  );
}

export function KeyProvider({ children }: { children: ReactNode }) {
  const books = useRef(new Map<symbol, Action[]>());
  const scans = useRef(new Map<symbol, OnScan>());
  const value = useMemo<KeyBook>(
    () => ({
      set: (id, actions) => void books.current.set(id, actions),
      drop: (id) => void books.current.delete(id),
      all: () => [...books.current.values()].flat().filter((action) => !action.off),
      setScan: (id, onScan) => void scans.current.set(id, onScan),
      dropScan: (id) => void scans.current.delete(id),
      onScan: () => [...scans.current.values()].at(-1),
    }),
    [],
  );
  useEffect(() => {
    const press = (key: string): boolean => {
      const action = value
        .all()
        .reverse()
        .find((one) => one.key === key.toLowerCase());
      action?.run();
      return action !== undefined;
    };
    const scanned = burst(
      // Each key finds the screen as the one before it left it.
      (keys) => keys.forEach((key) => flushSync(() => void press(key))),
      (code) => {
        const key = KEY_CODE.exec(code)?.[1]?.toLowerCase();
        if (key !== undefined) press(key === "space" ? " " : key);
        else value.onScan()?.(code);
      },
    );
    const listen = (event: KeyboardEvent) => {
      const free =
        !event.ctrlKey &&
        !event.metaKey &&
        !event.altKey &&
        !event.repeat &&
        !isTyping(event.target);
      if (free && value.onScan() !== undefined && !document.querySelector("[role=dialog]")) {
        if (!event.defaultPrevented && scanned.key(event.key)) {
          event.preventDefault();
          return;
        }
      } else scanned.stop();
      // A key that a dialog or a part of the screen has taken is not the screen's as well.
      if (
        event.defaultPrevented ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        isTyping(event.target) ||
        isPressing(event)
      )
        return;
      if (document.querySelector("[role=dialog]")) return;
      if (press(event.key)) event.preventDefault();
    };
    window.addEventListener("keydown", listen);
    return () => {
      scanned.stop();
      window.removeEventListener("keydown", listen);
    };
  }, [value]);
  return <KeyContext.Provider value={value}>{children}</KeyContext.Provider>;
}

/** Register the keys of a screen or part while it is shown. */
export function useActions(actions: Action[]): void {
  const book = useContext(KeyContext);
  const [id] = useState(() => Symbol("keys"));
  // Before it is painted: a key that a button names works from the moment the button is seen.
  useLayoutEffect(() => {
    book?.set(id, actions);
  });
  useLayoutEffect(() => () => book?.drop(id), [book, id]);
}

/** Take scanned codes while the screen is shown; codes of keys ("KEY-SPACE") press them. */
export function useScan(onScan: OnScan): void {
  const book = useContext(KeyContext);
  const [id] = useState(() => Symbol("scan"));
  useLayoutEffect(() => {
    book?.setScan(id, onScan);
  });
  useLayoutEffect(() => () => book?.dropScan(id), [book, id]);
}

export function useAllActions(): () => Action[] {
  const book = useContext(KeyContext);
  return () => book?.all() ?? [];
}
