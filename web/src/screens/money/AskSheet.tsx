/** A change, or several at once, and the orders it is tried on. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { beginWhatIf } from "../../api/money";
import { useFormat } from "../../app/session";
import { Choose } from "../../ui/Choose";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { Button } from "../../ui/parts";
import { ChangeFields } from "./ChangeFields";
import { changeOf, emptyChange, type ChangeIn, type Typed } from "./asking";
import { PERIODS_WEEKS, USUAL_WEEKS } from "./words";

/** So many changes can be tried at once. */
const MOST = 6;

interface Props {
  begin: Typed | null;
  onBegun: (id: number) => void;
  onClose: () => void;
}

export function AskSheet({ begin, onBegun, onClose }: Props) {
  const format = useFormat();
  const [changes, setChanges] = useState<Typed[]>([begin ?? emptyChange()]);
  const [weeks, setWeeks] = useState(String(USUAL_WEEKS));
  const send = useMutation({ ...beginWhatIf(), onSuccess: (made) => onBegun(made.id) });
  const made = changes.map((one) => changeOf(one, format.system));
  const whole = made.filter((one): one is ChangeIn => one !== null);
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title="What if"
      description="Every order of the period is planned again, before and after. Nothing here changes an order."
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          send.mutate({ changes: whole, weeks: Number(weeks) });
        }}
      >
        {changes.map((one, at) => (
          <div key={at} className={at > 0 ? "border-t border-line pt-3" : ""}>
            <ChangeFields
              typed={one}
              onChange={(now) =>
                setChanges(changes.map((each, index) => (index === at ? now : each)))
              }
            />
            {changes.length > 1 ? (
              <Button
                kind="quiet"
                onClick={() => setChanges(changes.filter((_, index) => index !== at))}
              >
                Without this change
              </Button>
            ) : null}
          </div>
        ))}
        {changes.length < MOST ? (
          <div>
            <Button kind="quiet" onClick={() => setChanges([...changes, emptyChange("without")])}>
              And another change
            </Button>
          </div>
        ) : null}
        <Choose
          label="On the orders of the last"
          value={weeks}
          options={PERIODS_WEEKS.map((one) => ({ value: String(one), text: `${one} weeks` }))}
          onPick={setWeeks}
        />
        <SheetFoot
          error={send.error}
          action="Try it"
          off={send.isPending || whole.length < changes.length}
          onCancel={onClose}
        />
      </form>
    </Sheet>
  );
}
