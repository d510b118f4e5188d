/** The label printer: how it stands, what waits, and printing again as a marked copy. */
import { useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { cancelPrint, printAgain, printer } from "../../api/leaving";
import { many } from "../../domain/words";
import { Button, Mark } from "../../ui/parts";
import { useToast } from "../../ui/useToast";
import { PRINTER_WORDS } from "./printing";

export function Printer() {
  const query = useQuery(printer());
  const say = useToast();
  const again = useMutation({
    ...printAgain(),
    onSuccess: (now) => now.waiting > 0 && say(PRINTER_WORDS[now.state], "stop"),
    onError: (error) => say(error.message, "stop"),
  });
  const cancel = useMutation({
    ...cancelPrint(),
    onError: (error) => say(error.message, "stop"),
  });
  if (!query.data) return null;
  const { state, waiting, jobs } = query.data;
  const open = jobs.filter((one) => one.state === "waiting");
  const twice = jobs.filter((one) => one.state === "printed" && one.sheets > 1).slice(0, 3);
  return (
    <section className="mt-4">
      <h2 className="border-b border-line2 pb-1.5 text-lead">Label printer</h2>
      <p className="py-2">
        <Mark kind={state === "ready" ? "ok" : "stop"} /> {PRINTER_WORDS[state]}
        {waiting > 0 ? ` ${many(waiting, "label")} wait${waiting === 1 ? "s" : ""}.` : ""}
      </p>
      {waiting > 0 ? (
        <>
          <Button disabled={again.isPending} onClick={() => again.mutate()}>
            Try again
          </Button>
          <ul className="mt-1.5">
            {open.map((one) => (
              <Job key={one.id} job={one} onCancel={() => cancel.mutate(one.id)} />
            ))}
          </ul>
        </>
      ) : null}
      {twice.map((one) => (
        <p key={one.id} className="text-small text-mind">
          <Mark kind="mind" /> {one.number} came out {one.sheets} times: destroy all but one.
        </p>
      ))}
    </section>
  );
}

function Job({ job, onCancel }: { job: Schemas["PrintJobOut"]; onCancel: () => void }) {
  return (
    <li className="flex items-center justify-between border-b border-line py-1">
      <span>
        <b>{job.number}</b> {job.copy_number > 1 ? `copy ${job.copy_number}` : ""}
      </span>
      <Button kind="quiet" className="min-h-9 px-2" onClick={onCancel}>
        Cancel
      </Button>
    </li>
  );
}
