/** A second-hand carton comes in: measured inside, weighed empty, one of it, at no cost. */
import { useWatch } from "react-hook-form";
import { z } from "zod";
import { answer, api } from "../../api/client";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { required, useZodForm } from "../../ui/form";
import { FormField } from "../../ui/FormField";
import { placeOf } from "./supply";
import { usePosting } from "./usePosting";

const BOARDS = ["single", "double"] as const;
const MEASURED = z.object({
  length: required("Measure it inside.").max(40),
  width: required("Measure it inside.").max(40),
  height: required("Measure it inside.").max(40),
  weight: required("Weigh it empty.").max(40),
  board: z.enum(BOARDS),
  note: z.string().max(120),
});
type Measures = z.infer<typeof MEASURED>;
const EMPTY: Measures = {
  length: "",
  width: "",
  height: "",
  weight: "",
  board: "single",
  note: "",
};

export function ReclaimSheet({
  shelf,
  open,
  onOpenChange,
}: {
  shelf: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title="Add a reclaimed carton"
      description="One carton of its own size. It costs nothing and is gone when it goes out."
    >
      {open ? <Measured shelf={shelf} onDone={() => onOpenChange(false)} /> : null}
    </Sheet>
  );
}

function Measured({ shelf, onDone }: { shelf: string; onDone: () => void }) {
  const post = usePosting(
    (now) => `${now.name} is on ${placeOf(now)}. Write ${now.code} on it.`,
    onDone,
  );
  const form = useZodForm(MEASURED, EMPTY, { error: post.error });
  const board = useWatch({ control: form.control, name: "board" });
  const send = form.handleSubmit((given) =>
    post.send((request_key) =>
      answer(api.POST("/api/supplies/reclaimed", { body: { ...given, shelf, request_key } })),
    ),
  );
  return (
    <form className="flex flex-col gap-3" noValidate onSubmit={(event) => void send(event)}>
      <div className="grid grid-cols-3 gap-3">
        <FormField form={form} name="length" label="Length inside" unit="mm" autoFocus />
        <FormField form={form} name="width" label="Width inside" unit="mm" />
        <FormField form={form} name="height" label="Height inside" unit="mm" />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <FormField form={form} name="weight" label="Weight, empty" unit="g" />
        <fieldset>
          <legend className="text-small text-ink2">Walls of the board</legend>
          <div className="flex gap-4">
            {BOARDS.map((one) => (
              <label key={one} className="flex min-h-11 items-center gap-2 whitespace-nowrap">
                <input
                  type="radio"
                  className="size-5 accent-action"
                  value={one}
                  {...form.register("board")}
                />
                {one}
              </label>
            ))}
          </div>
        </fieldset>
      </div>
      <FormField form={form} name="note" label="Where it came from" maxLength={120} />
      <p className="text-small text-ink2">
        A bare number is mm or g; 31 cm, 12 1/4 in or 0.24 kg will do as well. It is trusted with{" "}
        {board === "single" ? "8" : "15"} kg.
      </p>
      <SheetFoot error={post.error} action="Add to stock" off={post.isPending} onCancel={onDone} />
    </form>
  );
}
