/** What a scan came to, in words, and whether it is a worry. No React. */
import type { Schemas } from "../../api/client";
import { timeOfDay } from "../../domain/day";
import { dayWords } from "../../domain/words";

type Scan = Schemas["ScanOut"];

export interface Told {
  good: boolean;
  title: string;
  text: string;
}

/** A hand-over as it is called: "Larkline collects, 15:40", with its day when it is not this one's. */
export function handOverWords(one: Schemas["HandOverRef"], today: string): string {
  const time = timeOfDay(one.at_s);
  return one.day === today ? `${one.name}, ${time}` : `${one.name}, ${dayWords(one.day)} ${time}`;
}

export function tellScan(scan: Scan, into: Schemas["HandOverRef"]): Told {
  const who = `${scan.number}, ${scan.buyer}`;
  const its = scan.goes_with ? handOverWords(scan.goes_with, into.day) : "";
  switch (scan.verdict) {
    case "counted":
      return { good: true, title: `${who} is counted.`, text: "" };
    case "counted_soft":
      return {
        good: false,
        title: `${who} is counted, but its closure does not hold fully yet.`,
        text: "Until then it counts as open. Take it off the count to let it wait for the next hand-over.",
      };
    case "again":
      return { good: true, title: `${who} was counted before.`, text: "It counts once." };
    case "unknown":
      return {
        good: false,
        title: `Nothing here has the code ${scan.code}.`,
        text: "Scan the label's long code, or type the order's number.",
      };
    case "handed_over":
      return { good: false, title: `${who} was handed over already.`, text: "It was not counted." };
    case "not_closed":
      return {
        good: false,
        title: `${who} is not closed.`,
        text: "Its weight or a step is still open at the bench. It was not counted.",
      };
    case "no_label":
      return { good: false, title: `${who} has no label.`, text: "Buy it at the bench first." };
    case "label_given_back":
      return {
        good: false,
        title: `The label on ${who} was cancelled.`,
        text: "It is not valid any more: take it off and use the label bought after it, or buy one.",
      };
    case "wrong_carrier":
      return {
        good: false,
        title: `${who} does not go with ${into.name}.`,
        text: `Its label is ${scan.carrier_name}'s${its ? `: put it on the pile for ${its}` : ""}. It was not counted.`,
      };
    case "not_today":
      return {
        good: false,
        title: `${who} was put to another hand-over.`,
        text: `It leaves with ${its}. Move it on the day's line first if it shall go now.`,
      };
    case "full":
      return {
        good: false,
        title: `${into.name} takes no more parcels.`,
        text: `${who} waits for the next one.`,
      };
  }
}
