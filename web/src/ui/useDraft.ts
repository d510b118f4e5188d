/** What is typed and not saved yet, kept on this device: a reload or a way round other screens loses nothing. */
import { useEffect, useRef, useState } from "react";

const KEY = "draft:";

function kept<Value>(name: string): Value | null {
  try {
    return JSON.parse(window.localStorage.getItem(KEY + name) ?? "null") as Value | null;
  } catch {
    return null; // of an older shape, or cut off: the form begins as it would
  }
}

/** Like useState; ``restored`` says that it began with a draft, ``drop`` forgets it. */
export function useDraft<Value>(name: string, begin: () => Value) {
  const [was] = useState(() => kept<Value>(name));
  const [value, setValue] = useState<Value>(() => was ?? begin());
  const [restored, setRestored] = useState(was !== null);
  const dropped = useRef(false);
  const first = useRef(true);
  useEffect(() => {
    if (first.current) {
      first.current = false;
      return;
    }
    if (!dropped.current) window.localStorage.setItem(KEY + name, JSON.stringify(value));
  }, [name, value]);
  const drop = () => {
    dropped.current = true;
    window.localStorage.removeItem(KEY + name);
  };
  const restart = () => {
    window.localStorage.removeItem(KEY + name);
    first.current = true;
    setRestored(false);
    setValue(begin());
  };
  return { value, setValue, restored, drop, restart };
}

/** Who signs out leaves nothing typed behind for the next person at this device. */
export function forgetDrafts(): void {
  for (const key of Object.keys(window.localStorage))
    if (key.startsWith(KEY)) window.localStorage.removeItem(key);
}
