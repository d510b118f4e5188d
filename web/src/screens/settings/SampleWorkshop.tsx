/** The sample workshop beside one's own: loaded to look round in, removed when it is no longer wanted. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { loadSampleBeside, removeSample } from "../../api/account";
import { begin } from "../../api/frame";
import { Button, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";

export function SampleWorkshop() {
  const there = useQuery(begin());
  const [removing, setRemoving] = useState(false);
  const load = useMutation(loadSampleBeside());
  const remove = useMutation({ ...removeSample(), onSuccess: () => window.location.assign("/") });
  if (there.isPending) return <Waiting what="the sample" />;
  const state = there.data?.sample;
  return (
    <>
      <ScreenHead
        title={
          state === "ready"
            ? "The sample workshop is here"
            : state === "coming"
              ? "The sample workshop is being loaded"
              : "There is no sample workshop"
        }
        under="Made-up goods, orders and carriers, apart from your own"
      />
      <div className="border-t border-line bg-sheet p-6">
        <ProblemNote error={there.error ?? load.error ?? remove.error} />
        {state === "none" ? (
          <Button disabled={load.isPending} onClick={() => load.mutate()}>
            Load the sample workshop
          </Button>
        ) : null}
        {state === "coming" ? (
          <p role="status">
            {there.data?.parts_loaded} of {there.data?.parts} parts.
          </p>
        ) : null}
        {state === "ready" ? (
          <>
            <p>
              Sign out, and sign in as{" "}
              {there.data?.people
                .map((one) => `${one.username} (${one.role}, password ${one.password})`)
                .join(" or ")}{" "}
              to look round in it.
            </p>
            <Button kind="stop" className="mt-4" onClick={() => setRemoving(true)}>
              Remove the sample workshop
            </Button>
          </>
        ) : null}
      </div>
      <Sheet
        open={removing}
        onOpenChange={setRemoving}
        title="Remove the sample workshop?"
        description="Everything in it goes: its people, orders and ledger. Your own workshop is not touched. It can be loaded again."
      >
        <div className="flex gap-2.5">
          <Button kind="stop" disabled={remove.isPending} onClick={() => remove.mutate()}>
            Remove it
          </Button>
          <Button onClick={() => setRemoving(false)}>Keep it</Button>
        </div>
      </Sheet>
    </>
  );
}
