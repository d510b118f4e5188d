/** Hours and hand-overs: who packs when, who collects when, and the days on which nothing happens. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useFieldArray, type Path } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { setDayTimes, dayTimes } from "../../api/leaving";
import { useSession } from "../../app/session";
import { SHORT_WEEKDAYS } from "../../domain/words";
import { useZodForm } from "../../ui/form";
import { FormField, FormPick, FormTick, type FormOf } from "../../ui/FormField";
import { Button, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import { fieldOfPath, TIMES, typedHandOver, typedTimes, type TypedTimes } from "./times";

export function TimesScreen() {
  const query = useQuery(dayTimes());
  if (query.isPending) return <Waiting what="hours and hand-overs" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  return <TimesForm key={JSON.stringify(query.data)} now={query.data} />;
}

function TimesForm({ now }: { now: Schemas["TimesOut"] }) {
  const say = useToast();
  const owner = useSession().role === "owner";
  const save = useMutation({
    ...setDayTimes(),
    onSuccess: () => say("Saved. The day is planned again."),
  });
  const form = useZodForm<TypedTimes, Schemas["TimesIn"]>(TIMES, typedTimes(now), {
    error: save.error,
    fieldOf: (path) => fieldOfPath(path) as Path<TypedTimes>,
  });
  return (
    <form onSubmit={(event) => void form.handleSubmit((values) => save.mutate(values))(event)}>
      <ScreenHead
        title="Hours and hand-overs"
        under="The day is worked out from these: who packs when, and when parcels are collected or brought away"
      >
        <Button type="submit" kind="next" disabled={!owner || save.isPending}>
          Save
        </Button>
      </ScreenHead>
      <ProblemNote error={save.error} />
      {!owner ? <Notice kind="mind">Only the owner changes these.</Notice> : null}
      <fieldset disabled={!owner} className="grid gap-8 border-t border-line bg-sheet px-6 py-5">
        <legend className="sr-only">Hours and hand-overs</legend>
        <Hours form={form} assumed={now.assumed_hours} />
        <HandOvers form={form} now={now} />
        <Closures form={form} />
      </fieldset>
    </form>
  );
}

type Form = FormOf<TypedTimes>;

function Days({ form, name }: { form: Form; name: Path<TypedTimes> }) {
  const wrong = form.getFieldState(name, form.formState).error?.message;
  return (
    <div>
      <p className="text-small text-ink2">Days</p>
      <div className="flex gap-3">
        {SHORT_WEEKDAYS.map((day, index) => (
          <FormTick key={day} form={form} name={name} value={String(index)} label={day} />
        ))}
      </div>
      {wrong ? <p className="text-small text-stop">{wrong}</p> : null}
    </div>
  );
}

const ROW = "flex flex-wrap items-start gap-x-5 gap-y-2 border-b border-line py-3";

function Hours({ form, assumed }: { form: Form; assumed: Schemas["PackingHoursDoc"] | null }) {
  const rows = useFieldArray({ control: form.control, name: "hours" });
  return (
    <section>
      <h2 className="border-b-2 border-ink pb-1 text-lead">Who packs when</h2>
      {rows.fields.length === 0 && assumed ? (
        <p className="py-3 text-ink2">
          Nobody is entered: one person from {assumed.begins.slice(0, 5)} to{" "}
          {assumed.ends.slice(0, 5)} is assumed. Hours with a break are two rows of one person.
        </p>
      ) : null}
      {rows.fields.map((row, at) => (
        <div key={row.id} className={ROW}>
          <FormField form={form} name={`hours.${at}.who`} label="Who" className="w-44" />
          <FormField form={form} name={`hours.${at}.begins`} label="From" className="w-24" />
          <FormField form={form} name={`hours.${at}.ends`} label="To" className="w-24" />
          <Days form={form} name={`hours.${at}.days`} />
          <Button kind="quiet" className="mt-5" onClick={() => rows.remove(at)}>
            Delete
          </Button>
        </div>
      ))}
      <Button
        className="mt-3"
        onClick={() =>
          rows.append({ who: "", days: ["0", "1", "2", "3", "4"], begins: "", ends: "" })
        }
      >
        Add hours
      </Button>
    </section>
  );
}

function HandOvers({ form, now }: { form: Form; now: Schemas["TimesOut"] }) {
  const rows = useFieldArray({ control: form.control, name: "hand_overs", keyName: "row" });
  const names = new Map(now.carriers.map((one) => [one.code, one.name]));
  const typed = form.watch("hand_overs");
  const taken = new Set(typed.flatMap((one) => one.carriers));
  const assumed = now.assumed_hand_overs.filter(
    (one) => !one.carriers.some((carrier) => taken.has(carrier)),
  );
  return (
    <section>
      <h2 className="border-b-2 border-ink pb-1 text-lead">Hand-overs</h2>
      {rows.fields.map((row, at) => (
        <div key={row.row} className={ROW}>
          <FormField form={form} name={`hand_overs.${at}.name`} label="Name" className="w-56" />
          <div className="w-52">
            <FormPick
              form={form}
              name={`hand_overs.${at}.kind`}
              label="How"
              options={[
                { value: "collection", text: "it is collected here" },
                { value: "trip", text: "somebody brings it" },
              ]}
            />
          </div>
          <FormField form={form} name={`hand_overs.${at}.at`} label="At" className="w-24" />
          <FormField
            form={form}
            name={`hand_overs.${at}.most_parcels`}
            label="Most parcels"
            className="w-28"
            placeholder="any"
          />
          {typed[at]?.kind === "trip" ? (
            <>
              <FormField
                form={form}
                name={`hand_overs.${at}.way_minutes`}
                label="One way"
                unit="min"
                className="w-28"
              />
              <FormField
                form={form}
                name={`hand_overs.${at}.who`}
                label="Who goes"
                className="w-40"
                placeholder="whoever packs"
              />
            </>
          ) : null}
          <Days form={form} name={`hand_overs.${at}.days`} />
          <div>
            <p className="text-small text-ink2">Takes parcels of</p>
            <div className="flex flex-wrap gap-x-4">
              {now.carriers.map((one) => (
                <FormTick
                  key={one.code}
                  form={form}
                  name={`hand_overs.${at}.carriers`}
                  value={one.code}
                  label={one.name}
                />
              ))}
              {(typed[at]?.carriers.length ?? 0) === 0 ? (
                <span className="self-center text-small text-ink2">every carrier</span>
              ) : null}
            </div>
            <Wrong form={form} name={`hand_overs.${at}.carriers`} />
          </div>
          <Button kind="quiet" className="mt-5" onClick={() => rows.remove(at)}>
            Delete
          </Button>
        </div>
      ))}
      {assumed.length > 0 ? (
        <p className="py-3 text-ink2">
          Not entered, so taken from the cut-offs:{" "}
          {assumed
            .map(
              (one) =>
                `${one.carriers.map((code) => names.get(code) ?? code).join(", ")} at ${one.at.slice(0, 5)}`,
            )
            .join("; ")}
          .
        </p>
      ) : null}
      <div className="mt-3 flex flex-wrap gap-3">
        {assumed.map((one) => (
          <Button
            key={one.name}
            onClick={() => rows.append({ ...typedHandOver(one), name: `${one.name} collects` })}
          >
            Enter {one.name}
          </Button>
        ))}
        <Button
          onClick={() =>
            rows.append({
              id: null,
              name: "",
              kind: "collection",
              carriers: [],
              days: ["0", "1", "2", "3", "4"],
              at: "",
              way_minutes: "0",
              most_parcels: "",
              who: "",
            })
          }
        >
          Add a hand-over
        </Button>
      </div>
    </section>
  );
}

function Wrong({ form, name }: { form: Form; name: Path<TypedTimes> }) {
  const wrong = form.getFieldState(name, form.formState).error?.message;
  return wrong ? <p className="text-small text-stop">{wrong}</p> : null;
}

function Closures({ form }: { form: Form }) {
  const rows = useFieldArray({ control: form.control, name: "closures" });
  return (
    <section>
      <h2 className="border-b-2 border-ink pb-1 text-lead">Days the workshop is closed</h2>
      {rows.fields.map((row, at) => (
        <div key={row.id} className={ROW}>
          <FormField
            form={form}
            name={`closures.${at}.day`}
            label="Day"
            type="date"
            className="w-48"
          />
          <FormField form={form} name={`closures.${at}.reason`} label="Why" className="w-72" />
          <Button kind="quiet" className="mt-5" onClick={() => rows.remove(at)}>
            Delete
          </Button>
        </div>
      ))}
      <Button className="mt-3" onClick={() => rows.append({ day: "", reason: "" })}>
        Add a day
      </Button>
    </section>
  );
}
