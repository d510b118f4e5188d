/** Work the worker does: how far it is, and a way to cancel it. */
import { Button, Notice, ProblemNote } from "./parts";

interface Props {
  job: { state: string; done: number; of: number };
  /** What is counted, with what is done to it: "orders planned". */
  what: string;
  /** The way to cancel it; without one it cannot be cancelled by who looks. */
  onCancel?: () => void;
  cancel: { isPending: boolean; error: Error | null };
}

export function UnderWay({ job, what, onCancel, cancel }: Props) {
  return (
    <div className="mb-4">
      <ProblemNote error={cancel.error} />
      <Notice
        kind="mind"
        action={
          onCancel ? (
            <Button disabled={cancel.isPending} onClick={onCancel}>
              Cancel
            </Button>
          ) : null
        }
      >
        {job.state === "waiting" ? (
          "Waiting for the worker."
        ) : (
          <>
            {job.done} of {job.of || "the"} {what}. You may leave this screen.
            <span
              role="progressbar"
              aria-label={what}
              aria-valuemin={0}
              aria-valuemax={job.of || 1}
              aria-valuenow={job.done}
              className="mt-1.5 block h-2 border border-line2 bg-sheet"
            >
              <span
                className="block h-full bg-action"
                style={{ width: `${(100 * job.done) / (job.of || 1)}%` }}
              />
            </span>
          </>
        )}
      </Notice>
    </div>
  );
}
