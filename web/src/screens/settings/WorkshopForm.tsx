/** The workshop itself: its name and sender, units, label, and who sees costs. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { saveWorkshop, workshop } from "../../api/account";
import { useZodForm } from "../../ui/form";
import { FormField, FormPick, FormTick } from "../../ui/FormField";
import { Button, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import { required } from "../../ui/form";
import { timeZones } from "../begin/schema";

const WORKSHOP = z
  .object({
    name: required("A name.").max(80),
    street: required("Street and number.").max(80),
    town: required("Town.").max(80),
    postcode: required("Postcode.").max(12),
    country: z
      .string()
      .trim()
      .toUpperCase()
      .regex(/^[A-Z]{2,3}$/, "Two or three letters."),
    time_zone: z.string(),
    unit_system: z.enum(["metric", "imperial"]),
    label_supply: z.string(),
    packers_see_costs: z.boolean(),
    buyer_page_at: z
      .string()
      .trim()
      .max(120)
      .regex(/^(https?:\/\/[A-Za-z0-9.:/_-]+)?$/, "An address that begins with https://"),
  })
  .transform(({ street, town, ...rest }): Schemas["WorkshopIn"] => ({
    ...rest,
    address: [street, town],
  }));
type Typed = z.input<typeof WORKSHOP>;

export function WorkshopForm({ owner }: { owner: boolean }) {
  const found = useQuery(workshop());
  if (found.isPending) return <Waiting what="the workshop" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  return <Form key={JSON.stringify(found.data)} now={found.data} owner={owner} />;
}

function Form({ now, owner }: { now: Schemas["WorkshopOut"]; owner: boolean }) {
  const say = useToast();
  const save = useMutation({ ...saveWorkshop(), onSuccess: () => say("Saved.") });
  const form = useZodForm<Typed, Schemas["WorkshopIn"]>(
    WORKSHOP,
    {
      name: now.name,
      street: now.address.slice(0, -1).join(", "),
      town: now.address.at(-1) ?? "",
      postcode: now.postcode,
      country: now.country,
      time_zone: now.time_zone,
      unit_system: now.unit_system,
      label_supply: now.label_supply,
      packers_see_costs: now.packers_see_costs,
      buyer_page_at: now.buyer_page_at,
    },
    {
      error: save.error,
      fieldOf: (path) => (path.startsWith("address") ? "street" : (path as "name")),
    },
  );
  return (
    <form onSubmit={(event) => void form.handleSubmit((values) => save.mutate(values))(event)}>
      <ScreenHead
        title={now.name}
        under={`Amounts are in ${now.currency}; that stays, prices are in it`}
      >
        <Button type="submit" kind="next" disabled={!owner || save.isPending}>
          Save
        </Button>
      </ScreenHead>
      <fieldset
        disabled={!owner}
        className="grid gap-x-10 gap-y-3 border-t border-line bg-sheet p-6 md:grid-cols-2"
      >
        <legend className="sr-only">The workshop</legend>
        <FormField form={form} name="name" label="Name" />
        <FormPick
          form={form}
          name="unit_system"
          label="Units"
          options={[
            { value: "metric", text: "mm, cm, g, kg" },
            { value: "imperial", text: "inches, oz, lb" },
          ]}
        />
        <FormField form={form} name="street" label="Street and number" />
        <FormPick
          form={form}
          name="time_zone"
          label="Time zone"
          options={timeZones().map((zone) => ({ value: zone, text: zone.replaceAll("_", " ") }))}
        />
        <div className="grid grid-cols-[7rem_1fr_5rem] gap-3">
          <FormField form={form} name="postcode" label="Postcode" />
          <FormField form={form} name="town" label="Town" />
          <FormField form={form} name="country" label="Country" />
        </div>
        <FormPick
          form={form}
          name="label_supply"
          label="The label of each parcel"
          options={now.labels.map((one) => ({ value: one.code, text: one.name }))}
          none={{ value: "none-chosen", text: "none is drawn down" }}
        />
        <FormTick form={form} name="packers_see_costs" label="Packers see costs" />
        <FormField
          form={form}
          name="buyer_page_at"
          label="Buyers say how it arrived, at"
          placeholder="https://"
          hint="Where buyers reach this program: slips then carry a code. Empty: no code, no page."
        />
      </fieldset>
      <div className="px-6">
        <ProblemNote error={save.error} />
      </div>
    </form>
  );
}
