/** `/` finds anything, `?` shows the keys of this screen. What they open is fetched when it is first wanted. */
import {
  createContext,
  lazy,
  Suspense,
  useContext,
  useEffect,
  useMemo,
  useState,
  type ReactNode,
} from "react";
import { useActions, useAllActions, type Action } from "./keys";
import { fetchAhead } from "./screens";

const loadFind = () => import("./FindSheet");
const FindSheet = lazy(async () => ({ default: (await loadFind()).FindSheet }));
const KeysSheet = lazy(async () => ({ default: (await import("./KeysSheet")).KeysSheet }));

interface Help {
  find: () => void;
  keys: () => void;
}

const HelpContext = createContext<Help>({ find: () => undefined, keys: () => undefined });

/** Both by finger, too: the rail and the bench have buttons for them. */
export const useHelp = () => useContext(HelpContext);

export function Helpers({ children }: { children: ReactNode }) {
  const [finding, setFinding] = useState(false);
  const [keys, setKeys] = useState<Action[] | null>(null);
  const all = useAllActions();
  const help = useMemo(() => ({ find: () => setFinding(true), keys: () => setKeys(all()) }), [all]);
  useEffect(() => {
    // Once the screen stands: the first `/`, and the next screen, should not have to wait.
    const soon = window.setTimeout(() => void loadFind().then(fetchAhead), 1_500);
    return () => window.clearTimeout(soon);
  }, []);
  useActions([
    { key: "/", label: "Find anything", run: help.find },
    { key: "?", label: "Show the keys of this screen", run: help.keys },
  ]);
  return (
    <HelpContext.Provider value={help}>
      {children}
      {finding ? <Finding onClose={() => setFinding(false)} /> : null}
      <Suspense>{keys ? <KeysSheet keys={keys} onClose={() => setKeys(null)} /> : null}</Suspense>
    </HelpContext.Provider>
  );
}

/** A scanner types at once: what comes before the sheet is there is kept for it. */
function Finding({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const [entered, setEntered] = useState(false);
  const early = (
    <input
      autoFocus
      aria-label="Find"
      value={text}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === "Escape") onClose();
        if (event.key === "Enter") setEntered(true);
      }}
      className="fixed left-1/2 top-[12vh] z-40 min-h-11 w-96 max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded-part border border-line2 bg-sheet px-3 text-lead"
    />
  );
  return (
    <Suspense fallback={early}>
      <FindSheet text={text} entered={entered} onText={setText} onClose={onClose} />
    </Suspense>
  );
}
