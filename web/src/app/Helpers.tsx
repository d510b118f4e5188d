/** `/` finds anything, `?` shows the keys of this screen. What they open is fetched when it is first wanted. */
import {
  createContext,
  lazy,
  Suspense,
  useContext,
  useMemo,
  useState,
  type ReactNode,
} from "react";
import { useActions, useAllActions, type Action } from "./keys";

const FindSheet = lazy(async () => ({ default: (await import("./FindSheet")).FindSheet }));
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
  useActions([
    { key: "/", label: "Find anything", run: help.find },
    { key: "?", label: "Show the keys of this screen", run: help.keys },
  ]);
  return (
    <HelpContext.Provider value={help}>
      {children}
      <Suspense>
        {finding ? <FindSheet onClose={() => setFinding(false)} /> : null}
        {keys ? <KeysSheet keys={keys} onClose={() => setKeys(null)} /> : null}
      </Suspense>
    </HelpContext.Provider>
  );
}
