/** Each rule a service is chosen by: what it is now, and why a new workshop begins with what it does. */
import { SHORT_WEEKDAYS } from "../../domain/words";
import { useMutation } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { useWatch } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { saveChoosing } from "../../api/prices";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { useZodForm } from "../../ui/form";
import { FormPick, FormTick, type FormOf } from "../../ui/FormField";
import { useToast } from "../../ui/useToast";
import { Button, ProblemNote, ScreenHead } from "../../ui/parts";
import { rulesSchema, rulesWords, typedRules, type TypedRules } from "./rules";

interface PartProps {
  form: FormOf<TypedRules>;
  data: Schemas["ChoosingOut"];
}

export function RulesForm({ data }: { data: Schemas["ChoosingOut"] }) {
  const owner = useSession().role === "owner";
  const say = useToast();
  const all = data.services.map((one) => one.code);
  const [schema] = useState(() => rulesSchema(all));
  const save = useMutation(saveChoosing());
  const form = useZodForm(schema, typedRules(data.rules, all), { error: save.error });
  const { isDirty } = form.formState;
  const carriers = new Map(data.services.map((one) => [one.carrier, one.carrier_name]));
  const send = form.handleSubmit((rules) => {
    if (save.isPending) return;
    save.mutate(rules, {
      onSuccess: (now) => {
        form.reset(typedRules(now.rules, all));
        say("Saved. Open orders are planned again by these rules.");
      },
    });
  });
  useActions([{ key: "k", label: "Save rules", run: () => void send(), off: !owner || !isDirty }]);
  return (
    <>
      <ScreenHead
        title={rulesWords(data.rules, carriers)}
        under={
          owner
            ? "A plan takes its service by these rules; a person may choose another for one order"
            : "The owner sets these rules"
        }
      >
        {owner ? (
          <>
            <Button disabled={!isDirty} onClick={() => form.reset()}>
              Undo changes
            </Button>
            <Button
              onClick={() =>
                form.reset(typedRules(data.defaults, all), { keepDefaultValues: true })
              }
            >
              Reset to defaults
            </Button>
            <Button
              kind="next"
              hotkey="K"
              disabled={!isDirty || save.isPending}
              onClick={() => void send()}
            >
              Save rules
            </Button>
          </>
        ) : null}
      </ScreenHead>
      <div className="px-6">
        <ProblemNote error={save.error} />
      </div>
      <fieldset disabled={!owner} className="border-t border-line bg-sheet px-6 py-1">
        <legend className="sr-only">Choosing rules</legend>
        <WhoCarries form={form} data={data} />
        <When form={form} data={data} />
        <Safety form={form} data={data} />
        <Amounts form={form} data={data} />
      </fieldset>
    </>
  );
}

function WhoCarries({ form, data }: PartProps) {
  const { currency } = useSession();
  const trusted = useWatch({ control: form.control, name: "trusted_carrier" });
  const carriers = new Map(data.services.map((one) => [one.carrier, one.carrier_name]));
  const { reasons } = data;
  return (
    <>
      <Rule form={form} at="services" name="Services used" why={reasons.services}>
        {data.services.map((one) => (
          <FormTick key={one.code} form={form} name="services" value={one.code} label={one.name} />
        ))}
      </Rule>
      <Rule
        form={form}
        at="trusted_unless_saves"
        name="Trusted carrier"
        why={`${reasons.trusted_carrier ?? ""} ${trusted ? (reasons.trusted_unless_saves ?? "") : ""}`}
      >
        <FormPick
          form={form}
          name="trusted_carrier"
          label="Trusted carrier"
          bare
          none={{ value: "none", text: "none" }}
          options={[...carriers].map(([value, text]) => ({ value, text }))}
        />
        {trusted ? (
          <Amount
            form={form}
            name="trusted_unless_saves"
            before="unless another saves more than"
            label="Unless another saves more than"
            unit={currency}
          />
        ) : null}
      </Rule>
    </>
  );
}

function When({ form, data }: PartProps) {
  const promised = useWatch({ control: form.control, name: "promised" });
  return (
    <>
      <Rule
        form={form}
        at="arrive_within_days"
        name="Arrives within"
        why={data.reasons.arrive_within_days}
      >
        <FormTick
          form={form}
          name="promised"
          label={promised ? "" : "no promise"}
          spoken="Promise a number of days"
        />
        {promised ? (
          <Amount
            form={form}
            name="arrive_within_days"
            label="Days to arrive"
            unit="days after it leaves"
          />
        ) : null}
      </Rule>
      <Rule form={form} at="ship_days" name="Handed over on" why={data.reasons.ship_days}>
        {SHORT_WEEKDAYS.map((day, index) => (
          <FormTick key={day} form={form} name="ship_days" value={String(index)} label={day} />
        ))}
      </Rule>
      <Rule form={form} at="to_homes" name="Parcels go to homes" why={data.reasons.to_homes}>
        <FormTick form={form} name="to_homes" label="yes" />
      </Rule>
      <Rule form={form} at="delivers_to" name="Handed over at" why={data.reasons.delivers_to}>
        <FormTick form={form} name="delivers_to" value="door" label="the door" />
        <FormTick form={form} name="delivers_to" value="locker" label="a locker" />
        <FormTick form={form} name="delivers_to" value="shop" label="a shop" />
      </Rule>
    </>
  );
}

function Safety({ form, data }: PartProps) {
  const { currency } = useSession();
  const signed = useWatch({ control: form.control, name: "signed" });
  return (
    <>
      <Rule form={form} at="signature_above" name="Signed for" why={data.reasons.signature_above}>
        <FormTick
          form={form}
          name="signed"
          label={signed ? "" : "never"}
          spoken="Have parcels signed for"
        />
        {signed ? (
          <Amount
            form={form}
            name="signature_above"
            before="goods worth more than"
            label="Signed for above"
            unit={currency}
          />
        ) : null}
      </Rule>
      <Rule form={form} at="cover_goods" name="Buy cover" why={data.reasons.cover_goods}>
        <FormTick form={form} name="cover_goods" label="for what the goods are worth" />
      </Rule>
    </>
  );
}

function Amounts({ form, data }: PartProps) {
  const { currency } = useSession();
  return (
    <>
      <Rule form={form} at="advice_threshold" name="Advice" why={data.reasons.advice_threshold}>
        <Amount
          form={form}
          name="advice_threshold"
          before="only what saves more than"
          label="Advice only above"
          unit={currency}
        />
      </Rule>
      <Rule form={form} at="little_more" name="Room to spare" why={data.reasons.little_more}>
        <Amount
          form={form}
          name="little_more"
          before="a little more postage is up to"
          label="A little more postage"
          unit={currency}
        />
      </Rule>
    </>
  );
}

interface RuleProps {
  form: FormOf<TypedRules>;
  at: keyof TypedRules;
  name: string;
  why: string | undefined;
  children: ReactNode;
}

function Rule({ form, at, name, why, children }: RuleProps) {
  const wrong = form.getFieldState(at, form.formState).error?.message;
  return (
    <div className="grid grid-cols-[190px_minmax(0,1fr)_minmax(0,380px)] items-center gap-x-6 border-b border-line py-1.5 max-lg:grid-cols-1">
      <b>{name}</b>
      <div>
        <div className="flex flex-wrap items-center gap-x-6">{children}</div>
        {wrong ? <p className="text-small text-stop">{wrong}</p> : null}
      </div>
      <p className="text-small text-ink2">
        <span className="sr-only">Why this default: </span>
        {why ?? ""}
      </p>
    </div>
  );
}

function Amount({
  form,
  name,
  label,
  unit,
  before = "",
}: {
  form: FormOf<TypedRules>;
  name: keyof TypedRules;
  label: string;
  unit: string;
  before?: string;
}) {
  return (
    <span className="flex items-center gap-2">
      {before}
      <input
        aria-label={label}
        inputMode="decimal"
        className="min-h-9 w-20 rounded-part border border-line2 bg-sheet px-2 text-right"
        {...form.register(name)}
      />
      {unit}
    </span>
  );
}
