/** The keys of this screen. */
import { Sheet } from "../ui/Sheet";
import { keyName, type Action } from "./keys";

export function KeysSheet({ keys, onClose }: { keys: readonly Action[]; onClose: () => void }) {
  return (
    <Sheet open onOpenChange={(open) => !open && onClose()} title="Keys of this screen">
      <dl className="grid grid-cols-[6rem_1fr] gap-y-2.5">
        {keys.map((action) => (
          <div key={action.key + action.label} className="contents">
            <dt>
              <span className="keycap">{keyName(action.key)}</span>
            </dt>
            <dd>{action.label}</dd>
          </div>
        ))}
      </dl>
    </Sheet>
  );
}
