/** A sheet that asks why, and then does it: hold, reopen. */
import { useState } from "react";
import { Sheet } from "./Sheet";
import { Button, Field, ProblemNote } from "./parts";

interface Props {
  title: string;
  description: string;
  action: string;
  /** The way out, where "Cancel" would be taken for the deed. */
  keep?: string;
  /** The longest reason that is kept. */
  most: number;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  busy?: boolean;
  error?: Error | null;
  onReason: (words: string) => void;
}

export function ReasonSheet({ title, description, open, onOpenChange, ...asked }: Props) {
  return (
    <Sheet open={open} onOpenChange={onOpenChange} title={title} description={description}>
      <Why {...asked} onCancel={() => onOpenChange(false)} />
    </Sheet>
  );
}

function Why({
  action,
  keep = "Cancel",
  most,
  busy = false,
  error = null,
  onReason,
  onCancel,
}: Pick<Props, "action" | "keep" | "most" | "busy" | "error" | "onReason"> & {
  onCancel: () => void;
}) {
  const [words, setWords] = useState("");
  return (
    <form
      className="flex flex-col gap-4 text-lead"
      onSubmit={(event) => {
        event.preventDefault();
        onReason(words);
      }}
    >
      <Field
        label="Why"
        autoFocus
        required
        minLength={3}
        maxLength={most}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <ProblemNote error={error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" className="min-h-12" disabled={busy}>
          {action}
        </Button>
        <Button className="min-h-12" onClick={onCancel}>
          {keep}
        </Button>
      </div>
    </form>
  );
}
