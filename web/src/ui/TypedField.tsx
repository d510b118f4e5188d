/** A field of values that are kept as they are typed, in one object: what is typed goes back under its name. */
import { Field, type FieldProps } from "./parts";

interface Props<Name extends string> extends Omit<FieldProps, "value" | "onChange" | "name"> {
  values: Record<Name, string>;
  name: Name;
  set: (now: Record<Name, string>) => void;
}

export function TypedField<Name extends string>({ values, name, set, ...rest }: Props<Name>) {
  return (
    <Field
      {...rest}
      value={values[name]}
      onChange={(event) => set({ [name]: event.target.value } as Record<Name, string>)}
    />
  );
}
