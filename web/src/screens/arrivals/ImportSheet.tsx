/** Arrivals from a file: each line with what it would do; imported whole or not at all. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { importOutcomes, previewOutcomes } from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import { many } from "../../domain/words";
import { FileButton } from "../../ui/FileButton";
import { Sheet } from "../../ui/Sheet";
import { useToast } from "../../ui/useToast";
import { Button, Mark, ProblemNote } from "../../ui/parts";

const STATES: Record<Schemas["OutcomeLine"]["state"], string> = {
  new: "new",
  changes: "changes what was told",
  same: "told already",
  error: "error",
};

export function ImportSheet({ onClose }: { onClose: () => void }) {
  const say = useToast();
  const [file, setFile] = useState<Schemas["OutcomesFileIn"] | null>(null);
  const look = useMutation(previewOutcomes());
  const take = useMutation(importOutcomes());
  const found = look.data;
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title="Import arrivals"
      description="A CSV or .xlsx file, a line a parcel: order (or tracking), outcome, and if you like part, place, sku, units, note, gave_back, gave_amount, delivered_on."
      wide
    >
      <div className="flex flex-col gap-3">
        <div className="flex items-center gap-3">
          <FileButton
            text="Choose a file"
            accept=".csv,.txt,.xlsx"
            onFile={(name, content) => {
              setFile({ name, content });
              look.mutate({ name, content });
            }}
          />
          <span className="text-ink2">{file?.name}</span>
        </div>
        <ProblemNote error={look.error ?? take.error} />
        {found ? (
          <>
            <p role="status">
              {many(found.new, "line")} new, {found.changes} changed, {found.same} told already,{" "}
              {many(found.errors, "error")}.
            </p>
            <ul className="max-h-[45vh] overflow-auto border-y border-line">
              {found.lines.map((line) => (
                <li
                  key={line.line}
                  className="flex gap-3 border-t border-line py-1 first:border-t-0"
                >
                  <span className="w-14 shrink-0 text-ink2">line {line.line}</span>
                  <b className="w-32 shrink-0 truncate">{line.order}</b>
                  <span className="w-24 shrink-0">{line.outcome}</span>
                  <span className={line.state === "error" ? "text-stop" : "text-ink2"}>
                    {line.state === "error" ? <Mark kind="stop" /> : null}{" "}
                    {line.problem || STATES[line.state]}
                  </span>
                </li>
              ))}
            </ul>
            <div className="flex gap-3">
              <Button
                kind="next"
                disabled={
                  file === null ||
                  take.isPending ||
                  found.errors > 0 ||
                  found.new + found.changes === 0
                }
                onClick={() =>
                  file &&
                  take.mutate(file, {
                    onSuccess: (done) => {
                      say(`${many(done.new + done.changes, "arrival")} imported.`);
                      onClose();
                    },
                  })
                }
              >
                Import
              </Button>
              <Button onClick={onClose}>Cancel</Button>
            </div>
          </>
        ) : null}
      </div>
    </Sheet>
  );
}
