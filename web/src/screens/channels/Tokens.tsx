/** Tokens for other programs: what each may do, when it was last used; a new one is shown once. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { makeToken, revokeToken, tokens } from "../../api/channels";
import { momentWords } from "../../domain/words";
import { Table } from "../../ui/list/Table";
import { Button, Field, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";

type Scope = Schemas["TokenOut"]["scopes"][number];

const SCOPES: readonly { value: Scope; text: string }[] = [
  { value: "orders_in", text: "send orders in" },
  { value: "tracking_out", text: "fetch tracking numbers" },
  { value: "read_all", text: "read everything you can see" },
];

export function Tokens() {
  const list = useQuery(tokens());
  const revoke = useMutation(revokeToken());
  return (
    <>
      <ScreenHead
        title="Other programs"
        under="A token lets a program of yours in for what you tick, and nothing else. How it is used stands in docs/formats/api.md."
      />
      <div className="border-t border-line bg-sheet p-6">
        <NewToken />
        <ProblemNote error={list.error ?? revoke.error} />
        {list.isPending ? <Waiting what="the tokens" /> : null}
        {list.data && list.data.results.length > 0 ? (
          <Table
            className="mt-6"
            caption="Tokens"
            rows={list.data.results}
            rowKey={(row) => row.id}
            columns={[
              {
                key: "name",
                name: "Token",
                cell: (row) => (
                  <>
                    <b className={row.revoked_at ? "font-normal text-ink2 line-through" : ""}>
                      {row.name}
                    </b>{" "}
                    <code className="text-small text-ink2">{row.begins}…</code>
                  </>
                ),
              },
              {
                key: "scopes",
                name: "May",
                cell: (row) =>
                  SCOPES.filter((one) => row.scopes.includes(one.value))
                    .map((one) => one.text)
                    .join(", "),
              },
              {
                key: "made",
                name: "Made",
                className: "text-ink2",
                cell: (row) => `${momentWords(row.made_at)} by ${row.made_by}`,
              },
              {
                key: "used",
                name: "Last used",
                className: "text-ink2",
                cell: (row) =>
                  row.revoked_at
                    ? `revoked ${momentWords(row.revoked_at)}`
                    : row.used_at
                      ? momentWords(row.used_at)
                      : "never",
              },
              {
                key: "revoke",
                name: "Revoke",
                quiet: true,
                className: "text-right",
                cell: (row) =>
                  row.revoked_at ? null : (
                    <Button
                      kind="stop"
                      disabled={revoke.isPending}
                      onClick={() => revoke.mutate(row.id)}
                    >
                      Revoke
                    </Button>
                  ),
              },
            ]}
          />
        ) : null}
      </div>
    </>
  );
}

function NewToken() {
  const [name, setName] = useState("");
  const [scopes, setScopes] = useState<readonly Scope[]>(["orders_in"]);
  const make = useMutation({ ...makeToken(), onSuccess: () => setName("") });
  const tick = (scope: Scope) =>
    setScopes((now) =>
      now.includes(scope) ? now.filter((one) => one !== scope) : [...now, scope],
    );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim() && scopes.length > 0)
          make.mutate({ name: name.trim(), scopes: [...scopes] });
      }}
    >
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <Field
          label="Program"
          className="w-64"
          maxLength={60}
          value={name}
          placeholder="What it is for"
          onChange={(event) => setName(event.target.value)}
        />
        <fieldset className="flex flex-wrap gap-x-5">
          <legend className="text-small text-ink2">It may</legend>
          {SCOPES.map((one) => (
            <label key={one.value} className="flex min-h-10 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-action"
                checked={scopes.includes(one.value)}
                onChange={() => tick(one.value)}
              />
              {one.text}
            </label>
          ))}
        </fieldset>
        <Button
          type="submit"
          kind="next"
          disabled={!name.trim() || scopes.length === 0 || make.isPending}
        >
          Make a token
        </Button>
      </div>
      <ProblemNote error={make.error} />
      {make.data ? (
        <div className="mt-3">
          <Notice kind="done">
            <b>{make.data.token.name}</b>:{" "}
            <code className="select-all break-all text-[18px]">{make.data.text}</code> Copy it now:
            it is shown only this once.
          </Notice>
        </div>
      ) : null}
    </form>
  );
}
