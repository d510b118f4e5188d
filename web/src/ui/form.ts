/** Forms on react-hook-form and zod: one schema a form, and the server's errors at their fields. No words of the trade. */
import { zodResolver } from "@hookform/resolvers/zod";
import { useEffect } from "react";
import {
  useForm,
  type DefaultValues,
  type FieldValues,
  type Path,
  type UseFormReturn,
} from "react-hook-form";
import { config, z } from "zod";
import { ProblemError } from "../api/client";
import { askAbout } from "../domain/numbers";

// The strict policy of the page forbids code made at run time.
config({ jitless: true });

/** A number as it is typed: clear, or asked about. Empty is for ``required``. */
export const typedNumber = () =>
  z.string().superRefine((typed, context) => {
    const asked = askAbout(typed);
    if (asked) context.addIssue({ code: "custom", message: asked });
  });

/** Something must be there. */
export const required = (words: string) => z.string().trim().min(1, words);

export interface ServerErrors<Values extends FieldValues> {
  error: unknown;
  /** The field a path of the server's error belongs to; by default the one of the same name at its end. */
  fieldOf?: (path: string) => Path<Values> | null;
}

/** Where the server's errors belong: those with a field of the form, by field. */
export function fieldErrors<Values extends FieldValues>(
  fields: readonly Path<Values>[],
  { error, fieldOf }: ServerErrors<Values>,
): [Path<Values>, string][] {
  if (!(error instanceof ProblemError)) return [];
  const { faults, field, detail } = error.problem;
  const told =
    faults.length > 0
      ? faults.map((fault) => [fault.path, fault.message] as const)
      : field
        ? [[field, detail] as const]
        : [];
  return told.flatMap(([path, message]) => {
    const name = fieldOf ? fieldOf(path) : fields.find((one) => one === path.split(".").at(-1));
    return name ? [[name, message] as [Path<Values>, string]] : [];
  });
}

/** A form of a schema: what is typed goes in, what is sent comes out. Errors of the server land at their fields. */
export function useZodForm<Typed extends FieldValues, Sent>(
  schema: z.ZodType<Sent, Typed>,
  defaults: Typed,
  server: ServerErrors<Typed>,
): UseFormReturn<Typed, unknown, Sent> {
  const form = useForm<Typed, unknown, Sent>({
    resolver: zodResolver(schema),
    defaultValues: defaults as DefaultValues<Typed>,
    mode: "onTouched",
  });
  const { error } = server;
  useEffect(() => {
    const names = Object.keys(defaults) as Path<Typed>[];
    for (const [name, message] of fieldErrors(names, server))
      form.setError(name, { type: "server", message });
    // Only a new error is new: the rest is as the form began.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [error]);
  return form;
}
