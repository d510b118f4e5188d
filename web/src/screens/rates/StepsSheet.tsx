/** New prices as a step table: pasted or from a CSV file, upon the list that is shown. */
import { useMutation } from "@tanstack/react-query";
import { z } from "zod";
import { importSteps } from "../../api/prices";
import type { Schemas } from "../../api/client";
import { textOf } from "../../ui/files";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import { required, useZodForm } from "../../ui/form";
import { FormField } from "../../ui/FormField";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  row: Schemas["TariffRow"];
  onTaken: (id: number, notes: string[]) => void;
}

export function StepsSheet({ open, onOpenChange, row, onTaken }: Props) {
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title={`New prices for ${row.carrier_name}`}
      description={`The tables named are replaced; everything else stays as in ${row.version}. A new list is added beside it.`}
      wide
    >
      {open ? <StepsForm row={row} onDone={() => onOpenChange(false)} onTaken={onTaken} /> : null}
    </Sheet>
  );
}

const STEPS = z.object({
  tariff_version: required("A name for it.").max(30),
  valid_from: required("The first day it is valid."),
  content: required("The lines of the step table."),
});

function StepsForm({
  row,
  onDone,
  onTaken,
}: {
  row: Props["row"];
  onDone: () => void;
  onTaken: Props["onTaken"];
}) {
  const say = useToast();
  const take = useMutation({
    ...importSteps(row.id),
    onSuccess: (done) => {
      say(`${done.row.carrier_name} ${done.row.version} imported.`);
      onTaken(done.row.id, done.notes);
      onDone();
    },
  });
  const form = useZodForm(
    STEPS,
    { tariff_version: "", valid_from: "", content: "service,format,zone,above,up_to,price\n" },
    { error: take.error },
  );
  const send = form.handleSubmit((steps) => {
    if (!take.isPending) take.mutate(steps);
  });
  return (
    <form className="flex flex-col gap-4" noValidate onSubmit={(event) => void send(event)}>
      <div className="grid grid-cols-2 gap-4">
        <FormField
          form={form}
          name="tariff_version"
          label="Name of the new version"
          maxLength={30}
        />
        <FormField form={form} name="valid_from" label="Valid from" type="date" />
      </div>
      <label className="block text-small text-ink2">
        Step table
        <textarea
          className="mt-1 block h-56 w-full rounded-part border border-line2 bg-sheet p-3 font-mono text-small text-ink"
          spellCheck={false}
          {...form.register("content")}
        />
      </label>
      <label className="text-small text-ink2">
        or from a file{" "}
        <input
          type="file"
          accept=".csv,.txt"
          className="ml-2"
          onChange={(event) =>
            void textOf(event.target.files?.[0]).then((text) => form.setValue("content", text))
          }
        />
      </label>
      <SheetFoot error={take.error} action="Import" off={take.isPending} onCancel={onDone} />
    </form>
  );
}
