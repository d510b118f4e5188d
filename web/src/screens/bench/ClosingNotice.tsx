/** What to mind when a parcel is shut: when it holds fully, against its hand-over, and what damp air does to it. */
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { closingTime } from "../../api/bench";
import { clockWords } from "../../domain/day";
import { Notice, ProblemNote } from "../../ui/parts";
import { handOverWords } from "../send-off/verdicts";

export function ClosingNotice({ parcelId }: { parcelId: number }) {
  const found = useQuery(closingTime(parcelId));
  if (found.isError) return <ProblemNote error={found.error} />;
  const told = found.data ? closingWords(found.data) : [];
  return (
    <>
      {told.map((text) => (
        <div key={text} className="mt-4 max-w-2xl text-bench">
          <Notice kind="mind">{text}</Notice>
        </div>
      ))}
    </>
  );
}

export function closingWords(closing: Schemas["ClosingOut"]): string[] {
  const told: string[] = [];
  if (closing.full_strength_minutes > 0) told.push(strengthWords(closing));
  for (const one of closing.weak)
    told.push(
      `${one.name} holds less in air above ${one.above_percent} %. It is ${closing.humidity_percent} % here${closing.from_sensor ? ", as the sensor says" : ""}: press it down longer, or take another tape.`,
    );
  return told;
}

function strengthWords(closing: Schemas["ClosingOut"]): string {
  const holds = `Shut now, it holds fully from ${clockWords(closing.full_strength_s)}.`;
  const next = closing.hand_over;
  const later = closing.leaves_with;
  if (next === null) return holds;
  if (later?.key === next.key)
    return `${holds} ${handOverWords(next, closing.today)} is after that.`;
  const leaves = `${handOverWords(next, closing.today)} is before that`;
  if (closing.wanted === "none") return `${holds} ${leaves}: carry it carefully until then.`;
  const goes = later === null ? "" : ` It goes with ${handOverWords(later, closing.today)}.`;
  return `${holds} ${leaves}, and until then it counts as open.${goes} Take another tape to send it earlier.`;
}
