/** Sign in: two fields, one action. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { signIn } from "../../api/account";
import { Button, Field, ProblemNote } from "../../ui/parts";

export function SignInScreen({ onBack }: { onBack?: () => void }) {
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const enter = useMutation(signIn());
  return (
    <main className="grid min-h-screen grid-cols-[1fr_minmax(360px,1fr)] max-md:grid-cols-1">
      <div className="flex items-center justify-center border-r border-line bg-sheet p-10 max-md:hidden">
        <Shelf />
      </div>
      <form
        className="flex flex-col justify-center gap-5 px-12 py-10 max-md:px-6"
        onSubmit={(event) => {
          event.preventDefault();
          enter.mutate({ username, password });
        }}
      >
        <div className="w-full max-w-sm">
          <h1 className="text-[38px] leading-tight">Calm Cupboard</h1>
          <p className="mt-2 text-lead text-ink2">
            Every parcel whole, on time, and at the lowest cost.
          </p>
        </div>
        <div className="flex w-full max-w-sm flex-col gap-4">
          <Field
            label="Name"
            autoComplete="username"
            autoFocus
            required
            value={username}
            onChange={(event) => setUsername(event.target.value)}
          />
          <Field
            label="Password"
            type="password"
            autoComplete="current-password"
            required
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
          <ProblemNote error={enter.error} />
          <div>
            <Button type="submit" kind="next" disabled={enter.isPending} className="min-h-12 px-6">
              Sign in
            </Button>
            {onBack ? (
              <Button className="ml-2.5 min-h-12" onClick={onBack}>
                Back
              </Button>
            ) : null}
          </div>
        </div>
      </form>
    </main>
  );
}

/** A shelf in a cupboard, drawn: cartons, a roll, a jar in its place. */
function Shelf() {
  return (
    <svg
      viewBox="0 0 420 380"
      className="w-full max-w-lg"
      role="img"
      aria-label="A cupboard with cartons, a roll of paper and jars on its shelves"
    >
      <g fill="none" stroke="var(--ink)" strokeWidth="2.5">
        <path d="M30 20h360v340H30z" fill="var(--ground)" />
        <path d="M40 132h340M40 246h340" stroke="var(--board-edge)" strokeWidth="8" />
        <g fill="var(--board)" stroke="var(--board-edge)">
          <path d="M62 68h86v60H62zM158 88h60v40h-60z" />
          <path d="M62 82h86M158 98h60M105 68v60M188 88v40" strokeWidth="1.5" />
          <path d="M250 180h104v62H250zM270 148h64v32h-64z" />
        </g>
        <g fill="var(--sheet)">
          <circle cx="280" cy="98" r="30" />
          <circle cx="280" cy="98" r="9" />
          <path d="M280 68h70v60h-70" />
          <path d="M70 186h42v56H70zM66 174h50v12H66zM126 186h42v56h-42zM122 174h50v12h-50zM182 186h42v56h-42zM178 174h50v12h-50z" />
        </g>
        <g fill="var(--level)">
          <path d="M62 310h84v42H62zM160 324h84v28h-84zM258 300h84v52h-84z" />
        </g>
        <path d="M62 280h84v72H62zM160 280h84v72h-84zM258 280h84v72h-84z" />
        <path d="M56 322h12M140 322h12M154 332h12M238 332h12" strokeWidth="4" />
      </g>
    </svg>
  );
}
