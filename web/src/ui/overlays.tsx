/** Radix dialogs and toasts in our own look. */
import { Dialog, Toast } from "radix-ui";
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from "react";
import { Mark } from "./parts";

interface SheetProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  description?: string;
  children: ReactNode;
  wide?: boolean;
}

export function Sheet({
  open,
  onOpenChange,
  title,
  description,
  children,
  wide = false,
}: SheetProps) {
  const close = useRef(onOpenChange);
  useEffect(() => {
    close.current = onOpenChange;
  });
  useEffect(() => {
    if (!open) return undefined;
    // While a toast stands above the sheet, Escape would close only that; an open list keeps it for itself.
    const listen = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || document.querySelector("[role=listbox]")) return;
      event.preventDefault(); // so that the screen below does not step back as well
      close.current(false);
    };
    document.addEventListener("keydown", listen, true);
    return () => document.removeEventListener("keydown", listen, true);
  }, [open]);
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/35" />
        <Dialog.Content
          aria-describedby={description ? undefined : ""}
          className={`fixed left-1/2 top-[8vh] z-40 max-h-[84vh] w-[calc(100vw-2rem)] -translate-x-1/2 overflow-auto rounded-part border border-line2 bg-sheet p-6 outline-none ${wide ? "max-w-3xl" : "max-w-lg"}`}
        >
          <Dialog.Title className="text-[21px]">{title}</Dialog.Title>
          {description ? (
            <Dialog.Description className="mt-1 text-ink2">{description}</Dialog.Description>
          ) : null}
          <div className="mt-4">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

interface Said {
  id: number;
  text: string;
  kind: "done" | "stop";
}

const SayContext = createContext<(text: string, kind?: "done" | "stop") => void>(() => undefined);

/** Say in one sentence what happened. */
export const useToast = () => useContext(SayContext);

export function SayProvider({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<Said[]>([]);
  const say = useCallback((text: string, kind: "done" | "stop" = "done") => {
    setSaid((all) => [...all.slice(-2), { id: Date.now() + Math.random(), text, kind }]);
  }, []);
  const value = useMemo(() => say, [say]);
  return (
    <SayContext.Provider value={value}>
      <Toast.Provider duration={6000} label="What happened">
        {children}
        {said.map((one) => (
          <Toast.Root
            key={one.id}
            onOpenChange={(open) =>
              !open && setSaid((all) => all.filter((other) => other.id !== one.id))
            }
            className="flex items-center gap-3 rounded-part border border-line2 bg-sheet px-4 py-3"
          >
            <Mark kind={one.kind} />
            <Toast.Description>{one.text}</Toast.Description>
          </Toast.Root>
        ))}
        <Toast.Viewport className="fixed bottom-4 left-4 z-50 flex w-96 max-w-[calc(100vw-2rem)] flex-col gap-2" />
      </Toast.Provider>
    </SayContext.Provider>
  );
}
