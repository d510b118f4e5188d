/** A workshop of one's own: name and sender, how it counts, when parcels leave, and who owns it. */
import { useMutation } from "@tanstack/react-query";
import { useWatch } from "react-hook-form";
import { setUpWorkshop } from "../../api/account";
import { WEEKDAYS } from "../../domain/words";
import { useZodForm } from "../../ui/form";
import { FormField, FormPick, FormTick, type FormOf } from "../../ui/FormField";
import { Button, Mark, ProblemNote } from "../../ui/parts";
import { beginning, passwordRules, SET_UP, timeZones, type SetUp, type Typed } from "./schema";

const FIELD_OF: Record<string, keyof Typed> = { address: "street", wage_per_hour: "wage" };

export function SetUpForm({ onBack }: { onBack: () => void }) {
  const make = useMutation({
    ...setUpWorkshop(),
    // Loaded again, so that nothing of the stranger's page stays.
    onSuccess: () => window.location.assign("/first-parcel"),
  });
  const form = useZodForm<Typed, SetUp>(SET_UP, beginning(), {
    error: make.error,
    fieldOf: (path) => {
      const last = path.split(/[.[\]]+/).find((part) => part && !/^\d+$/.test(part)) ?? "";
      const name = FIELD_OF[last] ?? last;
      return name in beginning() ? (name as keyof Typed) : null;
    },
  });
  return (
    <form
      className="grid gap-x-10 gap-y-7 md:grid-cols-2 lg:grid-cols-3"
      onSubmit={(event) => void form.handleSubmit((values) => make.mutate(values))(event)}
    >
      <Sender form={form} />
      <Counting form={form} />
      <Owner form={form} />
      <div className="flex flex-col gap-3 lg:col-span-3">
        <ProblemNote error={make.error} />
        <div className="flex gap-2.5">
          <Button type="submit" kind="next" className="min-h-12 px-6" disabled={make.isPending}>
            Set up the workshop
          </Button>
          <Button className="min-h-12" onClick={onBack}>
            Back
          </Button>
        </div>
      </div>
    </form>
  );
}

interface Part {
  form: FormOf<Typed>;
}

function Sender({ form }: Part) {
  return (
    <fieldset className="flex flex-col gap-3">
      <legend className="mb-2 text-[21px] font-semibold">The workshop</legend>
      <FormField form={form} name="workshop" label="Name" autoFocus autoComplete="organization" />
      <FormField form={form} name="street" label="Street and number" />
      <div className="grid grid-cols-[7rem_1fr_5rem] gap-3">
        <FormField form={form} name="postcode" label="Postcode" />
        <FormField form={form} name="town" label="Town" />
        <FormField form={form} name="country" label="Country" placeholder="DE" />
      </div>
      <p className="text-small text-ink2">
        Parcels leave from here: it is on every label, and decides the carriers' zones.
      </p>
    </fieldset>
  );
}

function Counting({ form }: Part) {
  return (
    <fieldset className="flex flex-col gap-3">
      <legend className="mb-2 text-[21px] font-semibold">How it counts</legend>
      <div className="grid grid-cols-2 gap-3">
        <FormField form={form} name="currency" label="Currency" placeholder="EUR" />
        <FormPick
          form={form}
          name="money_digits"
          label="Smallest amount"
          options={[
            { value: "2", text: "0.01" },
            { value: "0", text: "1" },
            { value: "3", text: "0.001" },
          ]}
        />
        <FormPick
          form={form}
          name="unit_system"
          label="Units"
          options={[
            { value: "metric", text: "mm, cm, g, kg" },
            { value: "imperial", text: "inches, oz, lb" },
          ]}
        />
        <FormField
          form={form}
          name="wage"
          label="An hour of work costs"
          inputMode="decimal"
          hint="Minutes count in every comparison."
        />
      </div>
      <FormPick
        form={form}
        name="time_zone"
        label="Time zone"
        options={timeZones().map((zone) => ({ value: zone, text: zone.replaceAll("_", " ") }))}
      />
      <div role="group" aria-label="Days parcels leave">
        <p className="text-small text-ink2">Parcels leave on</p>
        <div className="grid grid-cols-4 gap-x-3">
          {WEEKDAYS.map((day, index) => (
            <FormTick
              key={day}
              form={form}
              name="ship_days"
              value={String(index)}
              label={day.slice(0, 3)}
              spoken={day}
            />
          ))}
        </div>
        {form.formState.errors.ship_days ? (
          <p className="text-small text-stop">{form.formState.errors.ship_days.message}</p>
        ) : null}
      </div>
    </fieldset>
  );
}

function Owner({ form }: Part) {
  const [name, username, password] = useWatch({
    control: form.control,
    name: ["name", "username", "password"],
  });
  return (
    <fieldset className="flex flex-col gap-3">
      <legend className="mb-2 text-[21px] font-semibold">You, its owner</legend>
      <div className="grid grid-cols-2 gap-3">
        <FormField form={form} name="name" label="Your name" autoComplete="name" />
        <FormField form={form} name="username" label="Sign in as" autoComplete="username" />
      </div>
      <FormField
        form={form}
        name="password"
        type="password"
        label="Password"
        autoComplete="new-password"
      />
      <ul className="text-small" aria-label="Rules of a password">
        {passwordRules(password, { name, username }).map((rule) => (
          <li key={rule.text} className={rule.kept ? "text-ink" : "text-ink2"}>
            <Mark kind={rule.kept ? "done" : "mind"} /> {rule.text}
          </li>
        ))}
        <li className="text-ink2">and no word that many people use</li>
      </ul>
    </fieldset>
  );
}
