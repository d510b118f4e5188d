/** What was retired, and bringing one back. No words of the trade but those given. */
import type { ReactNode } from "react";
import { ProblemNote, Waiting } from "./parts";
import { Sheet } from "./Sheet";

interface Row {
  id: number;
  name: string;
  detail: ReactNode;
}

export function RetiredSheet({
  title,
  rows,
  error,
  busy,
  onBack,
  onClose,
}: {
  title: string;
  rows: readonly Row[] | undefined;
  error: Error | null;
  busy: boolean;
  onBack: (id: number) => void;
  onClose: () => void;
}) {
  return (
    <Sheet open onOpenChange={(open) => !open && onClose()} title={title}>
      {rows === undefined && !error ? <Waiting what="them" /> : null}
      <ProblemNote error={error} />
      {rows?.length === 0 ? <p className="text-ink2">None is retired.</p> : null}
      <ul>
        {(rows ?? []).map((row) => (
          <li key={row.id} className="flex min-h-11 items-center gap-3 border-t border-line">
            <span className="grow">{row.name}</span>
            <span className="text-small text-ink2">{row.detail}</span>
            <button
              type="button"
              className="min-h-11 text-action underline"
              disabled={busy}
              onClick={() => onBack(row.id)}
            >
              Bring back
            </button>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
