/** Keys of a screen: each action has its key, its label and its effect in one object; `?` lists them. */
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

interface KeyBook {
  set: (id: symbol, actions: Action[]) => void;
  drop: (id: symbol) => void;
  all: () => Action[];
}

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

export function isTyping(target: EventTarget | null): boolean {
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

/** Run the last registered action of a key; whether there was one. */
export function pressed(actions: Action[], key: string): boolean {
  const action = actions.reverse().find((one) => one.key === key.toLowerCase());
  action?.run();
  return action !== undefined;
}

export function KeyProvider({ children }: { children: ReactNode }) {
  const books = useRef(new Map<symbol, Action[]>());
  const value = useMemo<KeyBook>(
    () => ({
      set: (id, actions) => void books.current.set(id, actions),
      drop: (id) => void books.current.delete(id),
      all: () => [...books.current.values()].flat().filter((action) => !action.off),
    }),
    [],
  );
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
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
      if (!pressed(value.all(), event.key)) return;
      event.preventDefault();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
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

export function useAllActions(): () => Action[] {
  const book = useContext(KeyContext);
  return () => book?.all() ?? [];
}
