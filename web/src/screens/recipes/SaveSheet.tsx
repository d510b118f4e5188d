/** Saving a change as the next version: why it changes. */
import { useState } from "react";
import { Sheet } from "../../ui/Sheet";
import { Button, Field, ProblemNote } from "../../ui/parts";
import type { useRecipe } from "./useRecipe";

export function SaveSheet({
  open,
  onClose,
  number,
  saving,
}: {
  open: boolean;
  onClose: () => void;
  number: number;
  saving: ReturnType<typeof useRecipe>["saving"];
}) {
  const [reason, setReason] = useState("");
  return (
    <Sheet
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`Save as version ${number}`}
      description="Open orders follow it; packed ones keep theirs."
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          saving.save(reason, () => {
            onClose();
            setReason("");
          });
        }}
      >
        <Field
          label="Why it changes"
          autoFocus
          required
          minLength={3}
          maxLength={200}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <ProblemNote error={saving.error} />
        <div className="flex gap-3">
          <Button type="submit" kind="next" disabled={saving.busy}>
            Save
          </Button>
          <Button onClick={onClose}>Not yet</Button>
        </div>
      </form>
    </Sheet>
  );
}
