/** A field of a form: its label, its unit, and what is wrong with it right under it. */
import { Controller, type FieldValues, type Path, type UseFormReturn } from "react-hook-form";
import { Pick } from "./Pick";
import { Field, type FieldProps } from "./parts";

/** What a form sends does not matter to its fields. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type FormOf<Values extends FieldValues> = UseFormReturn<Values, any, any>;

interface Props<Values extends FieldValues> extends Omit<FieldProps, "fault" | "name" | "form"> {
  form: FormOf<Values>;
  name: Path<Values>;
}

export function FormField<Values extends FieldValues>({ form, name, ...rest }: Props<Values>) {
  const wrong = form.getFieldState(name, form.formState).error?.message;
  return <Field {...rest} {...form.register(name)} fault={wrong} />;
}

/** One of a few, chosen from a list. */
export function FormPick<Values extends FieldValues>({
  form,
  name,
  label,
  options,
  locked = false,
  bare = false,
  none,
}: {
  form: FormOf<Values>;
  name: Path<Values>;
  label: string;
  options: { value: string; text: string }[];
  locked?: boolean;
  /** Its name stands beside it already. */
  bare?: boolean;
  /** A choice that stands for empty: a select has none of its own. */
  none?: { value: string; text: string };
}) {
  const wrong = form.getFieldState(name, form.formState).error?.message;
  return (
    <div className="min-w-0">
      {bare ? null : <p className="mb-1 text-small text-ink2">{label}</p>}
      <Controller
        control={form.control}
        name={name}
        render={({ field }) => (
          <Pick
            label={label}
            value={(field.value as string) || (none?.value ?? "")}
            options={none ? [none, ...options] : options}
            onPick={(value) => !locked && field.onChange(value === none?.value ? "" : value)}
            className="min-h-10 w-full min-w-0 overflow-hidden whitespace-nowrap"
          />
        )}
      />
      {wrong ? <p className="mt-1 text-small text-stop">{wrong}</p> : null}
    </div>
  );
}

/** One box to tick: of a list, or a yes by itself. */
export function FormTick<Values extends FieldValues>({
  form,
  name,
  value,
  label,
  spoken,
}: {
  form: FormOf<Values>;
  name: Path<Values>;
  value?: string;
  label: string;
  /** What it is called by those who hear it, where the label changes. */
  spoken?: string;
}) {
  return (
    <label className="flex min-h-10 items-center gap-2">
      <input
        type="checkbox"
        className="size-5 shrink-0 accent-action"
        {...(value === undefined ? {} : { value })}
        {...(spoken ? { "aria-label": spoken } : {})}
        {...form.register(name)}
      />
      {label}
    </label>
  );
}
