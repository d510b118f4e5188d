/** Answering for a list of parcels: the one in hand, a key an answer, and taking the last one back. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answerArrival } from "../../api/arrivals";
import { useActions } from "../../app/keys";
import { OUTCOME_WORDS, type Outcome } from "../../domain/arriving";
import { answerOf, type Arrival } from "./shown";
import { useToast } from "../../ui/useToast";

interface Answers {
  at: number;
  pick: (index: number) => void;
  /** The parcel whose answer is written out in full. */
  told: Arrival | null;
  tell: (one: Arrival | null) => void;
  quick: (one: Arrival, outcome: Outcome) => void;
  last: Arrival | null;
  takeBack: () => void;
  error: Error | null;
  busy: boolean;
}

export function useAnswers(rows: readonly Arrival[]): Answers {
  const say = useToast();
  const [at, setAt] = useState(0);
  const [told, tell] = useState<Arrival | null>(null);
  const [last, setLast] = useState<Arrival | null>(null);
  const send = useMutation(answerArrival());
  const here = rows[Math.min(at, rows.length - 1)];
  const quick = (one: Arrival, outcome: Outcome) => {
    if (send.isPending) return;
    send.mutate(
      { id: one.id, body: { ...answerOf(one), outcome, harms: [] } },
      {
        onSuccess: (now) => {
          setLast(now);
          say(`${now.number}: ${OUTCOME_WORDS[now.outcome]}. Undo with U.`);
        },
      },
    );
  };
  const takeBack = () => {
    if (last === null || send.isPending) return;
    send.mutate(
      { id: last.id, body: { ...answerOf(last), outcome: "unknown", harms: [] } },
      {
        onSuccess: (now) => {
          setLast(null);
          say(`${now.number} is to ask about again.`);
        },
      },
    );
  };
  const off = here === undefined || told !== null;
  useActions([
    {
      key: "arrowdown",
      label: "Next parcel",
      run: () => setAt((n) => Math.min(n + 1, rows.length - 1)),
      off: told !== null,
    },
    {
      key: "arrowup",
      label: "Parcel before",
      run: () => setAt((n) => Math.max(n - 1, 0)),
      off: told !== null,
    },
    { key: "w", label: "It arrived whole", run: () => here && quick(here, "whole"), off },
    { key: "b", label: "Broken or marked: point at the place", run: () => here && tell(here), off },
    { key: "t", label: "It came late, and whole", run: () => here && quick(here, "late"), off },
    { key: "l", label: "It is lost", run: () => here && quick(here, "lost"), off },
    {
      key: "u",
      label: "Undo the last answer",
      run: takeBack,
      off: last === null || told !== null,
    },
  ]);
  return {
    at: Math.min(at, Math.max(0, rows.length - 1)),
    pick: setAt,
    told,
    tell,
    quick,
    last,
    takeBack,
    error: send.error,
    busy: send.isPending,
  };
}
