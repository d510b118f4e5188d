/** The first page of all, before there is a workshop of one's own: see the sample, or set up yours. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../../api/client";
import { loadSample, signIn } from "../../api/account";
import { begin } from "../../api/frame";
import { Button, ProblemNote, Waiting } from "../../ui/parts";
import { SignInScreen } from "../sign-in/Screen";

/** Fetched when it is wanted: whoever only signs in need not wait for it. */
const SetUpForm = lazy(async () => ({ default: (await import("./SetUpForm")).SetUpForm }));

export function BeginScreen() {
  const there = useQuery(begin());
  // Whose session ended on a screen wants that screen back; at the front door there is a choice.
  const [step, setStep] = useState<"choose" | "set-up" | "sign-in">(
    window.location.pathname === "/" ? "choose" : "sign-in",
  );
  if (there.isPending) return <Waiting what="Calm Cupboard" />;
  if (there.isError || there.data.own || step === "sign-in")
    return (
      <SignInScreen {...(there.data?.own === false ? { onBack: () => setStep("choose") } : {})} />
    );
  return (
    <main className="mx-auto max-w-6xl px-8 py-10 max-md:px-5">
      <h1 className="text-[38px] leading-tight">Calm Cupboard</h1>
      <p className="mt-1 text-lead text-ink2">
        Every parcel whole, on time, and at the lowest cost.
      </p>
      {step === "set-up" ? (
        <section className="mt-7" aria-label="Set up your own workshop">
          <Suspense fallback={<Waiting what="the form" />}>
            <SetUpForm onBack={() => setStep("choose")} />
          </Suspense>
        </section>
      ) : (
        <Choose
          there={there.data}
          onOwn={() => setStep("set-up")}
          onSignIn={() => setStep("sign-in")}
        />
      )}
    </main>
  );
}

function Choose({
  there,
  onOwn,
  onSignIn,
}: {
  there: Schemas["BeginOut"];
  onOwn: () => void;
  onSignIn: () => void;
}) {
  return (
    <div className="mt-9 grid gap-10 md:grid-cols-2">
      <section aria-labelledby="own" className="border-t-4 border-ink pt-5">
        <h2 id="own" className="text-[26px] leading-tight">
          Set up your own
        </h2>
        <p className="mt-2 text-lead text-ink2">
          Your name and address, your units and currency, your account: two minutes. Then a page
          leads you to the first packed parcel, with your own goods.
        </p>
        <Button kind="next" autoFocus className="mt-5 min-h-12 px-6" onClick={onOwn}>
          Set up your own
        </Button>
      </section>
      <section aria-labelledby="sample" className="border-t-4 border-line2 pt-5">
        <h2 id="sample" className="text-[26px] leading-tight">
          See the sample workshop
        </h2>
        <p className="mt-2 text-lead text-ink2">
          A made-up pottery and pantry with supplies, recipes, price lists and orders, to look round
          in and to break. It stays apart from yours and can be removed.
        </p>
        <Sample there={there} />
      </section>
      <p className="text-ink2">
        Already somebody here?{" "}
        <button type="button" className="min-h-11 text-action underline" onClick={onSignIn}>
          Sign in
        </button>
      </p>
    </div>
  );
}

function Sample({ there }: { there: Schemas["BeginOut"] }) {
  const load = useMutation(loadSample());
  const enter = useMutation(signIn());
  if (there.sample === "coming")
    return (
      <p role="status" className="mt-5 text-lead">
        Loading: {there.parts_loaded} of {there.parts} parts. You can set up your own meanwhile.
      </p>
    );
  if (there.sample === "none")
    return (
      <>
        <Button
          className="mt-5 min-h-12 px-6"
          disabled={load.isPending}
          onClick={() => load.mutate()}
        >
          Load the sample workshop
        </Button>
        <ProblemNote error={load.error} />
      </>
    );
  return (
    <div className="mt-5 flex flex-wrap gap-2.5">
      {there.people.map(({ username, password, name, role }) => (
        <Button
          key={username}
          className="min-h-12 px-5"
          disabled={enter.isPending}
          onClick={() => enter.mutate({ username, password })}
        >
          Look round as {name}, {role}
        </Button>
      ))}
      <ProblemNote error={enter.error} />
    </div>
  );
}
