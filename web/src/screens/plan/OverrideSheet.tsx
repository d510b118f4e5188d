/** What a person decides for this one order: containers not to use, goods that may lie down, a note for the packer. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { z } from "zod";
import { override } from "../../api/orders";
import { type Schemas } from "../../api/client";
import { Sheet } from "../../ui/Sheet";
import { useToast } from "../../ui/useToast";
import { useZodForm } from "../../ui/form";
import { FormField, FormTick } from "../../ui/FormField";
import { Button, ProblemNote } from "../../ui/parts";
import { Parcels } from "./Parcels";
import { countsOf, leftOver, sharesOf, type Division } from "./division";

interface Props {
  data: Schemas["OrderPlanOut"];
  open: boolean;
  onOpenChange: (open: boolean) => void;
}

export function OverrideSheet({ data, open, onOpenChange }: Props) {
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Override for order ${data.order.number}`}
      description="For this order only. It is checked, marked, and can be undone."
      wide
    >
      {open ? <ChoicesForm data={data} onDone={() => onOpenChange(false)} /> : null}
    </Sheet>
  );
}

const CHOICES = z.object({
  not_before: z.string(),
  arrive_by: z.string(),
  may_lie_down: z.array(z.string()),
  forbidden: z.array(z.string()),
  note: z.string().max(300),
});
type Choices = z.infer<typeof CHOICES>;
const CLEARED: Choices = {
  not_before: "",
  arrive_by: "",
  may_lie_down: [],
  forbidden: [],
  note: "",
};

function ChoicesForm({ data, onDone }: { data: Props["data"]; onDone: () => void }) {
  const say = useToast();
  const { overrides } = data;
  const [division, setDivision] = useState<Division>(() => ({
    parcels: overrides.parcels,
    shares: overrides.shares.length > 0 ? countsOf(data, overrides.shares) : null,
  }));
  const wrong = division.shares ? leftOver(data, division.shares) : "";
  const save = useMutation({
    ...override(data.order.id),
    onSuccess: () => {
      say("Saved for this order.");
      onDone();
    },
  });
  const form = useZodForm(
    CHOICES,
    {
      ...overrides,
      not_before: overrides.not_before ?? "",
      arrive_by: overrides.arrive_by ?? "",
    } satisfies Choices,
    { error: save.error },
  );
  const send = form.handleSubmit((given) => {
    if (save.isPending || wrong) return;
    save.mutate({
      ...given,
      not_before: given.not_before || null,
      arrive_by: given.arrive_by || null,
      parcels: division.parcels,
      shares: division.shares ? sharesOf(data, division.shares) : [],
    });
  });
  return (
    <form className="flex flex-col gap-4" noValidate onSubmit={(event) => void send(event)}>
      <fieldset className="grid grid-cols-2 gap-4">
        <legend className="text-ink2">Days</legend>
        <FormField
          form={form}
          name="not_before"
          type="date"
          label="Not before: it is held until then"
        />
        <FormField form={form} name="arrive_by" type="date" label="Must arrive by" />
      </fieldset>
      <fieldset>
        <legend className="text-ink2">Any orientation, this order only</legend>
        {data.order.lines.map((line) => (
          <FormTick
            key={line.sku}
            form={form}
            name="may_lie_down"
            value={line.sku}
            label={line.title || line.sku}
          />
        ))}
      </fieldset>
      <fieldset>
        <legend className="text-ink2">Do not use</legend>
        <div className="grid grid-cols-2 gap-x-4 max-lg:grid-cols-1">
          {containersOf(data).map(([code, name]) => (
            <FormTick
              key={code}
              form={form}
              name="forbidden"
              value={code}
              label={`${code} ${name}`.trim()}
            />
          ))}
        </div>
      </fieldset>
      <Parcels data={data} division={division} onChange={setDivision} wrong={wrong} />
      <FormField form={form} name="note" label="Note for whoever packs it" maxLength={300} />
      <ProblemNote error={save.error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" disabled={save.isPending || wrong !== ""}>
          Save
        </Button>
        <Button
          onClick={() => {
            form.reset(CLEARED);
            setDivision({ parcels: null, shares: null });
          }}
        >
          Clear all
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

/** Every container this plan weighed or ruled out, once, by code. */
export function containersOf(data: Props["data"]): [code: string, name: string][] {
  const { plan } = data;
  const planned = plan.status === "planned";
  const names = new Map([
    ...plan.ruled_out.map((one) => [one.container, one.name] as const),
    ...(planned ? plan.supplies.map((one) => [one.code, one.name] as const) : []),
  ]);
  const codes = new Set([
    ...(planned ? plan.ways.flatMap((way) => way.containers) : []),
    ...plan.ruled_out.map((one) => one.container),
    ...data.overrides.forbidden,
  ]);
  return [...codes].sort().map((code) => [code, names.get(code) ?? ""]);
}
