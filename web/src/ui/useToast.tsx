/** Saying in one sentence what happened. How it is shown is fetched when something is said for the first time. */
import {
  createContext,
  lazy,
  Suspense,
  useCallback,
  useContext,
  useState,
  type ReactNode,
} from "react";

export interface Said {
  id: number;
  text: string;
  kind: "done" | "stop";
}

type Say = (text: string, kind?: Said["kind"]) => void;

const Toasts = lazy(async () => ({ default: (await import("./Toasts")).Toasts }));
const SayContext = createContext<Say>(() => undefined);

export const useToast = (): Say => useContext(SayContext);

export function SayProvider({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<Said[]>([]);
  const [spoke, setSpoke] = useState(false);
  const say = useCallback<Say>((text, kind = "done") => {
    setSpoke(true);
    setSaid((all) => [...all.slice(-2), { id: Date.now() + Math.random(), text, kind }]);
  }, []);
  return (
    <SayContext.Provider value={say}>
      {children}
      <Suspense>
        {spoke ? (
          <Toasts
            said={said}
            onGone={(id) => setSaid((all) => all.filter((other) => other.id !== id))}
          />
        ) : null}
      </Suspense>
    </SayContext.Provider>
  );
}
