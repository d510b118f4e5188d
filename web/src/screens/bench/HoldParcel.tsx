/** Off the bench: the parcel is undone, the order held or cancelled, and what cannot be used again leaves the stock. */
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { z } from "zod";
import { holdParcel } from "../../api/bench";
import { type Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { required, useZodForm } from "../../ui/form";
import { FormField, FormPick, FormTick, type FormOf } from "../../ui/FormField";
import { useToast } from "../../ui/useToast";
import { Sheet } from "../../ui/Sheet";
import { Button, ProblemNote } from "../../ui/parts";

type Parcel = Schemas["ParcelOut"];

export function HoldParcel({
  parcel,
  open,
  onOpenChange,
}: {
  parcel: Parcel;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Take order ${parcel.order.number} off the bench`}
      description="Its parcels are undone. What you laid out goes back to the shelf, except what you tick below."
    >
      <TakeOff parcel={parcel} onCancel={() => onOpenChange(false)} />
    </Sheet>
  );
}

const SCHEMA = z.object({
  words: required("Say why, for whoever opens the order next.").pipe(
    z.string().min(3, "At least 3 letters."),
  ),
  then: z.enum(["hold", "cancel"]),
  spoiled: z.array(z.string()),
});
type Typed = z.input<typeof SCHEMA>;

function TakeOff({ parcel, onCancel }: { parcel: Parcel; onCancel: () => void }) {
  const navigate = useNavigate();
  const say = useToast();
  const hold = useMutation({
    ...holdParcel(),
    onSuccess: (order) => {
      say(`Order ${order.number} is ${order.state} and off the bench.`);
      void navigate("/bench");
    },
  });
  const form = useZodForm<Typed, Typed>(
    SCHEMA,
    { words: "", then: "hold", spoiled: [] },
    { error: hold.error },
  );
  return (
    <form
      className="flex flex-col gap-4 text-lead"
      onSubmit={(event) =>
        void form.handleSubmit(({ words, then, spoiled }) =>
          hold.mutate({ id: parcel.id, words, spoiled, cancel: then === "cancel" }),
        )(event)
      }
    >
      <FormField form={form} name="words" label="Why" autoFocus maxLength={160} />
      <FormPick
        form={form}
        name="then"
        label="Then"
        options={[
          { value: "hold", text: "Hold the order until somebody releases it" },
          { value: "cancel", text: "Cancel the order: the buyer does not want it" },
        ]}
      />
      <Spoiled form={form} parcel={parcel} />
      <ProblemNote error={hold.error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" className="min-h-12" disabled={hold.isPending}>
          Take it off
        </Button>
        <Button className="min-h-12" onClick={onCancel}>
          Keep packing
        </Button>
      </div>
    </form>
  );
}

/** What was cut, folded or taped cannot go back: it leaves the stock as spoiled. */
function Spoiled({ form, parcel }: { form: FormOf<Typed>; parcel: Parcel }) {
  const format = useFormat();
  const refs = new Map(parcel.supplies.map((ref) => [ref.code, ref]));
  const totals = new Map<string, number>();
  for (const use of parcel.candidate.uses)
    totals.set(use.supply, (totals.get(use.supply) ?? 0) + Number(use.quantity));
  return (
    <fieldset>
      <legend className="text-small text-ink2">
        What cannot be used again? It leaves the stock as spoiled.
      </legend>
      <div className="mt-1 grid gap-x-4 sm:grid-cols-2">
        {[...totals].map(([code, quantity]) => (
          <FormTick
            key={code}
            form={form}
            name="spoiled"
            value={code}
            label={`${refs.get(code)?.name ?? code}, ${format.quantity(quantity, refs.get(code)?.unit ?? "pieces")}`}
          />
        ))}
      </div>
    </fieldset>
  );
}
