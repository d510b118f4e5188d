/** Add a person, or change one: name, role, whether they may sign in. */
import { useMutation } from "@tanstack/react-query";
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { addMember, changeMember } from "../../api/account";
import { required, useZodForm } from "../../ui/form";
import { FormField, FormPick, FormTick } from "../../ui/FormField";
import { Button, ProblemNote } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import type { Given } from "./People";

const PERSON = z.object({
  name: required("A name.").max(80),
  username: z
    .string()
    .trim()
    .regex(/^[A-Za-z0-9][A-Za-z0-9._-]{1,39}$/, "At least 2 letters or digits, no spaces."),
  role: z.enum(["packer", "owner"]),
  active: z.boolean(),
});
type Typed = z.infer<typeof PERSON>;

const ROLES = [
  { value: "packer", text: "packer: packs, counts, holds" },
  { value: "owner", text: "owner: also recipes, prices, people" },
];

export function PersonSheet({
  member,
  onClose,
  onGiven,
}: {
  member: Schemas["MemberOut"] | null;
  onClose: () => void;
  onGiven: (given: Given) => void;
}) {
  const add = useMutation(addMember());
  const change = useMutation({ ...changeMember(), onSuccess: onClose });
  const form = useZodForm<Typed, Typed>(
    PERSON,
    {
      name: member?.name ?? "",
      username: member?.username ?? "",
      role: member?.role === "owner" ? "owner" : "packer",
      active: member?.active ?? true,
    },
    { error: add.error ?? change.error },
  );
  const send = ({ name, username, role, active }: Typed) => {
    if (member) change.mutate({ id: member.id, name, role, active });
    else
      add.mutate(
        { name, username, role },
        {
          onSuccess: (told) => {
            onGiven({ ...told, name });
            onClose();
          },
        },
      );
  };
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title={member ? member.name : "Add a person"}
      description={
        member
          ? "What they did keeps the name they had then."
          : "They get a one-time password, shown once, and choose their own with it."
      }
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => void form.handleSubmit(send)(event)}
      >
        <FormField form={form} name="name" label="Name" autoFocus autoComplete="off" />
        <FormField
          form={form}
          name="username"
          label="Signs in as"
          autoComplete="off"
          disabled={member !== null}
        />
        <FormPick form={form} name="role" label="Role" options={ROLES} />
        {member ? <FormTick form={form} name="active" label="May sign in" /> : null}
        <ProblemNote error={add.error ?? change.error} />
        <div className="flex gap-2.5">
          <Button type="submit" kind="next" disabled={add.isPending || change.isPending}>
            {member ? "Save" : "Add"}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Sheet>
  );
}
