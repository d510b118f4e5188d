/** Change your own password: every other place is signed out. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { z } from "zod";
import { changePassword } from "../../api/account";
import { required, useZodForm } from "../../ui/form";
import { FormField } from "../../ui/FormField";
import { Button, Notice } from "../../ui/parts";

const SCHEMA = z
  .object({
    current: required("Type the password you have now."),
    new: z.string().min(10, "At least 10 letters, digits or signs."),
    again: z.string(),
  })
  .refine((typed) => typed.new === typed.again, {
    path: ["again"],
    message: "The two are not the same.",
  });
type Typed = z.input<typeof SCHEMA>;

const EMPTY: Typed = { current: "", new: "", again: "" };

export function PasswordForm({ oneTime = false }: { oneTime?: boolean }) {
  const [done, setDone] = useState(false);
  const change = useMutation({ ...changePassword(), onSuccess: () => setDone(true) });
  const form = useZodForm<Typed, Typed>(SCHEMA, EMPTY, { error: change.error });
  const send = ({ current, new: wanted }: Typed) => {
    setDone(false);
    change.mutate({ current, new: wanted }, { onSuccess: () => form.reset(EMPTY) });
  };
  return (
    <form
      className="mt-3 flex max-w-sm flex-col gap-4"
      onSubmit={(event) => void form.handleSubmit(send)(event)}
    >
      <FormField
        form={form}
        name="current"
        type="password"
        autoComplete="current-password"
        label={oneTime ? "One-time password" : "Password now"}
      />
      <FormField
        form={form}
        name="new"
        type="password"
        autoComplete="new-password"
        label="New password"
        hint="At least 10 letters, digits or signs; not your name, not a common word, not digits alone."
      />
      <FormField
        form={form}
        name="again"
        type="password"
        autoComplete="new-password"
        label="New password again"
      />
      {done ? <Notice kind="done">Changed. Every other place was signed out.</Notice> : null}
      <div>
        <Button type="submit" kind="next" className="min-h-11" disabled={change.isPending}>
          Change password
        </Button>
      </div>
    </form>
  );
}
