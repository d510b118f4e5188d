/** The carrier does not answer at all: the owner telephones and writes down what they say. */
import { useState } from "react";
import { z } from "zod";
import { useSession } from "../../app/session";
import { required, useZodForm } from "../../ui/form";
import { FormField, FormPick } from "../../ui/FormField";
import { Sheet } from "../../ui/Sheet";
import { Button, ProblemNote } from "../../ui/parts";
import type { Bench } from "./useBench";

const ANSWERS = {
  asked: [
    { value: "not_sold", text: "They sold no label" },
    { value: "sold", text: "They sold it" },
  ],
  voiding: [
    { value: "cancelled", text: "They cancelled it" },
    { value: "not_cancelled", text: "It is not cancelled: the label is good" },
  ],
} as const;

const SCHEMA = z.object({
  answer: z.enum(["sold", "not_sold", "cancelled", "not_cancelled"]),
  tracking: z.string().trim(),
  words: required("Write who said it and when.").pipe(z.string().min(3, "At least 3 letters.")),
});
type Typed = z.input<typeof SCHEMA>;

export function RecordAnswer({ bench, state }: { bench: Bench; state: keyof typeof ANSWERS }) {
  const who = useSession();
  const [open, setOpen] = useState(false);
  if (who.role !== "owner")
    return (
      <p className="mt-3 text-lead text-ink2">
        If it never answers: the owner can call them and write down what they say.
      </p>
    );
  return (
    <>
      <Button className="mt-3 min-h-11" onClick={() => setOpen(true)}>
        Write down what they say
      </Button>
      <Sheet
        open={open}
        onOpenChange={setOpen}
        title="What does the carrier say?"
        description="For a label they do not answer for themselves. What they have in their book counts in the end: it is asked again in the background."
      >
        <Told bench={bench} state={state} onCancel={() => setOpen(false)} />
      </Sheet>
    </>
  );
}

function Told({
  bench,
  state,
  onCancel,
}: {
  bench: Bench;
  state: keyof typeof ANSWERS;
  onCancel: () => void;
}) {
  const form = useZodForm<Typed, Typed>(
    SCHEMA,
    { answer: ANSWERS[state][0].value, tracking: "", words: "" },
    { error: bench.error },
  );
  const sold = form.watch("answer") === "sold";
  return (
    <form
      className="flex flex-col gap-4 text-lead"
      onSubmit={(event) => void form.handleSubmit((told) => bench.record(told))(event)}
    >
      <FormPick form={form} name="answer" label="They say" options={[...ANSWERS[state]]} />
      {sold ? (
        <FormField form={form} name="tracking" label="Tracking number" maxLength={40} />
      ) : null}
      <FormField form={form} name="words" label="Who said it, and when" maxLength={200} />
      <ProblemNote error={bench.error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" className="min-h-12" disabled={bench.busy}>
          Save
        </Button>
        <Button className="min-h-12" onClick={onCancel}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
