/** How large the closed parcel really is: five measured of a fill teach how far it bulges. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { measureOutside } from "../../api/bench";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { Button, Field, ProblemNote } from "../../ui/parts";
import { useToast } from "../../ui/useToast";

const SIDES = [
  ["length", "Length"],
  ["width", "Width"],
  ["height", "Height"],
] as const;

export function MeasureOutside({ parcel }: { parcel: Schemas["ParcelOut"] }) {
  const format = useFormat();
  const say = useToast();
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState({ length: "", width: "", height: "" });
  const measure = useMutation(measureOutside(parcel.id));
  const planned = parcel.candidate.outer;
  if (!open)
    return (
      <button
        type="button"
        className="mt-2 block min-h-11 text-lead text-ink2 underline"
        onClick={() => setOpen(true)}
      >
        Measure the outside
      </button>
    );
  return (
    <form
      className="mt-4 flex max-w-xl flex-wrap items-end gap-3 text-base"
      onSubmit={(event) => {
        event.preventDefault();
        measure.mutate(typed, {
          onSuccess: () => {
            say("Kept: it teaches how far parcels bulge.");
            setOpen(false);
          },
        });
      }}
    >
      {SIDES.map(([name, label]) => (
        <Field
          key={name}
          className="w-32"
          label={label}
          inputMode="decimal"
          placeholder={format.length(planned[`${name}_um`])}
          value={typed[name]}
          onChange={(event) => setTyped((now) => ({ ...now, [name]: event.target.value }))}
        />
      ))}
      <Button type="submit" className="min-h-12" disabled={measure.isPending}>
        Save
      </Button>
      <ProblemNote error={measure.error} />
    </form>
  );
}
