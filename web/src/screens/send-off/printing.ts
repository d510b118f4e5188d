/** How the printer stands, in words. No React. */
import type { Schemas } from "../../api/client";

export const PRINTER_WORDS: Record<Schemas["PrinterOut"]["state"], string> = {
  ready: "It is ready.",
  out_of_labels: "It is out of labels. Put a roll in, then try again.",
  jammed: "It is jammed. Open it, take the label out, then try again.",
  offline: "It does not answer. Look at its cable and switch, then try again.",
};

/** What printing came to, for the sentence that tells it. */
export function printedWords(now: Schemas["PrinterOut"], asked: number): string {
  if (now.waiting === 0)
    return asked === 1 ? "The label is printed." : `${asked} labels are printed.`;
  return `${PRINTER_WORDS[now.state]} The labels wait in the queue.`;
}
