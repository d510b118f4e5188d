/** The end of a sheet's form: what was refused, then the buttons. */
import type { ReactNode } from "react";
import { Button, ProblemNote } from "./parts";

interface Props {
  error: unknown;
  action: string;
  off: boolean;
  onCancel: () => void;
  children?: ReactNode;
}

export function SheetFoot({ error, action, off, onCancel, children }: Props) {
  return (
    <>
      <ProblemNote error={error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" disabled={off}>
          {action}
        </Button>
        <Button onClick={onCancel}>Cancel</Button>
        {children}
      </div>
    </>
  );
}
