/** The people of the workshop: the owner gives a one-time password to who has lost theirs. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { giveOneTimePassword, members } from "../../api/account";
import type { Schemas } from "../../api/client";
import { many, momentWords } from "../../domain/words";
import { Table } from "../../ui/list/Table";
import { Button, Notice, ProblemNote, Waiting } from "../../ui/parts";
import { PersonSheet } from "./PersonSheet";

export type Given = Schemas["OneTimeOut"] & { name: string };

type Member = Schemas["MemberOut"];

export function People() {
  const list = useQuery(members());
  const [given, setGiven] = useState<Given | null>(null);
  const [open, setOpen] = useState<Member | "new" | null>(null);
  const give = useMutation(giveOneTimePassword());
  const giveTo = (member: Member) =>
    give.mutate(member.id, { onSuccess: (told) => setGiven({ ...told, name: member.name }) });
  return (
    <section aria-labelledby="people">
      <div className="flex items-center justify-between">
        <h2 id="people" className="text-[21px]">
          People of the workshop
        </h2>
        <Button onClick={() => setOpen("new")}>Add a person</Button>
      </div>
      <ProblemNote error={list.error ?? give.error} />
      {given ? <OneTime given={given} /> : null}
      {list.isPending ? <Waiting what="the people" /> : null}
      {list.isSuccess ? (
        <Table
          className="mt-2"
          caption="People of the workshop"
          rows={list.data.results}
          rowKey={(member) => member.id}
          columns={[
            {
              key: "name",
              name: "Name",
              cell: (member) => (
                <button
                  type="button"
                  className="min-h-8 text-left text-action hover:underline"
                  onClick={() => setOpen(member)}
                >
                  {member.name}
                </button>
              ),
            },
            {
              key: "username",
              name: "Signs in as",
              className: "text-ink2",
              cell: (member) => member.username,
            },
            { key: "role", name: "Role", cell: (member) => member.role },
            {
              key: "places",
              name: "Signed in",
              className: "text-ink2",
              cell: (member) =>
                !member.active
                  ? "deactivated"
                  : member.must_change
                    ? "has a one-time password"
                    : member.places === 0
                      ? "no"
                      : `at ${many(member.places, "place")}`,
            },
            {
              key: "give",
              name: "One-time password",
              quiet: true,
              className: "text-right whitespace-nowrap",
              cell: (member) =>
                member.me || !member.active ? null : (
                  <button
                    type="button"
                    className="min-h-8 text-action underline"
                    disabled={give.isPending}
                    onClick={() => giveTo(member)}
                  >
                    Give a one-time password
                  </button>
                ),
            },
          ]}
        />
      ) : null}
      {open ? (
        <PersonSheet
          member={open === "new" ? null : open}
          onClose={() => setOpen(null)}
          onGiven={setGiven}
        />
      ) : null}
    </section>
  );
}

function OneTime({ given }: { given: Given }) {
  return (
    <div className="mt-3">
      <Notice kind="done">
        <b>
          {given.name} signs in once with{" "}
          <code className="mx-1 select-all text-[21px] tracking-wide">{given.password}</code>
        </b>
        and chooses a new password then. It is shown only now, lasts until{" "}
        {momentWords(given.until)}, and {given.name} was signed out everywhere.
      </Notice>
    </div>
  );
}
