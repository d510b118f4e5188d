/** Keep what came out of a change under a name. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { keepWhatIf } from "../../api/money";
import type { Schemas } from "../../api/client";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import { Button, Field } from "../../ui/parts";

export function KeepSheet({ here, onClose }: { here: Schemas["WhatIfOut"]; onClose: () => void }) {
  const say = useToast();
  const [name, setName] = useState(here.name);
  const keep = useMutation({
    ...keepWhatIf(),
    onSuccess: (done) => {
      say(done.name ? `Kept as ${done.name}.` : "It is kept no longer.");
      onClose();
    },
  });
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title="Keep what came out"
      description="It stays as it is, also when prices and recipes change."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate({ id: here.id, name: name.trim() });
        }}
      >
        <Field
          label="Name"
          required
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <SheetFoot
          error={keep.error}
          action="Save"
          off={keep.isPending || name.trim() === ""}
          onCancel={onClose}
        >
          {here.name ? (
            <Button onClick={() => keep.mutate({ id: here.id, name: "" })}>Keep no longer</Button>
          ) : null}
        </SheetFoot>
      </form>
    </Sheet>
  );
}
