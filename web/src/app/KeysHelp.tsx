/** `?` shows the keys of this screen. */
import { useState } from "react";
import { Sheet } from "../ui/overlays";
import { keyName, useActions, useAllActions, type Action } from "./keys";

export function KeysHelp() {
  const [shown, setShown] = useState<Action[] | null>(null);
  const all = useAllActions();
  useActions([{ key: "?", label: "Show the keys of this screen", run: () => setShown(all()) }]);
  return (
    <Sheet
      open={shown !== null}
      onOpenChange={(open) => !open && setShown(null)}
      title="Keys of this screen"
    >
      <dl className="grid grid-cols-[6rem_1fr] gap-y-2.5">
        {(shown ?? []).map((action) => (
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
