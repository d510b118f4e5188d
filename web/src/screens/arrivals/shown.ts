/** A parcel that has left, as the screens of arrivals show it. No React. */
import type { Schemas } from "../../api/client";

export type Arrival = Schemas["ArrivalOut"];
type Harm = Schemas["HarmIn"];
export type Answer = Required<Schemas["ArrivalAnswerIn"]>;

/** What is in a parcel, in short: "2 Salt pig, 1 Butter crock". */
export const goodsWords = (arrival: Arrival): string =>
  arrival.goods.map((one) => (one.units === 1 ? one.name : `${one.units} ${one.name}`)).join(", ");

/** The answer as it stands, to be sent back with a change. */
export const answerOf = (arrival: Arrival): Answer => ({
  revision: arrival.revision,
  outcome: arrival.outcome,
  harms: arrival.harms,
  note: arrival.note,
  message: arrival.message,
  gave_back: arrival.gave_back,
  gave_amount: arrival.gave_amount,
  delivered_on: null,
});

/** What is sent of an answer: harms of what was hurt only, money only where money went back. */
export function sent(typed: Answer): Answer {
  const hurt = ["broken", "marked", "spoiled"].includes(typed.outcome);
  const kind = typed.outcome as Harm["kind"];
  const none: Harm = { kind, place: null, spot: "", sku: "", units: 1 };
  const harms = typed.harms.length > 0 ? typed.harms : [none];
  const money = typed.gave_back === "refund" || typed.gave_back === "part_refund";
  return {
    ...typed,
    harms: hurt
      ? harms.map((one) => ({
          ...one,
          kind,
          place: kind === "spoiled" ? null : one.place,
          spot: kind === "spoiled" ? "" : one.spot,
        }))
      : [],
    gave_amount: money ? typed.gave_amount || "0" : "0",
  };
}

/** Three sides, however the server lists them. */
export const sides = (um: readonly number[] | null): [number, number, number] => [
  um?.[0] ?? 300_000,
  um?.[1] ?? 200_000,
  um?.[2] ?? 200_000,
];
