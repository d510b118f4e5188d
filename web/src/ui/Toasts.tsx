/** What was said, as Radix toasts in our own look. Fetched when something is said for the first time. */
import { Toast } from "radix-ui";
import { Mark } from "./parts";
import type { Said } from "./useToast";

export function Toasts({ said, onGone }: { said: readonly Said[]; onGone: (id: number) => void }) {
  return (
    <Toast.Provider duration={6000} label="What happened">
      {said.map((one) => (
        <Toast.Root
          key={one.id}
          onOpenChange={(open) => !open && onGone(one.id)}
          className="flex items-center gap-3 rounded-part border border-line2 bg-sheet px-4 py-3"
        >
          <Mark kind={one.kind} />
          <Toast.Description>{one.text}</Toast.Description>
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed bottom-4 left-4 z-50 flex w-96 max-w-[calc(100vw-2rem)] flex-col gap-2" />
    </Toast.Provider>
  );
}
