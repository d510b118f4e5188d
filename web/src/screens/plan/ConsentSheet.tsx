/** The buyer's word about the weather: a question to copy and send, kept with the order, and what they answered. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { answerConsent, askConsent } from "../../api/care";
import { dayWords } from "../../domain/words";
import { Choose } from "../../ui/Choose";
import { Button, Field, ProblemNote } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";

type Care = Schemas["CareOut"];
type Answer = Schemas["AnswerIn"]["answer"];

export function ConsentSheet({ care, onClose }: { care: Care; onClose: () => void }) {
  const [asked, setAsked] = useState(care.consent !== null);
  return (
    <Sheet
      open
      onOpenChange={(now) => !now && onClose()}
      title={`Order ${care.number}: ask ${care.buyer}`}
      wide
    >
      {asked && care.consent ? (
        <AnswerForm
          care={care}
          consent={care.consent}
          onClose={onClose}
          onAgain={() => setAsked(false)}
        />
      ) : (
        <Question care={care} onKept={() => setAsked(true)} onClose={onClose} />
      )}
    </Sheet>
  );
}

function Question({
  care,
  onKept,
  onClose,
}: {
  care: Care;
  onKept: () => void;
  onClose: () => void;
}) {
  const say = useToast();
  const [text, setText] = useState(care.question || care.consent?.text || "");
  const worst = care.parcels;
  const ask = useMutation({ ...askConsent(care.order_id), onSuccess: onKept });
  const copy = () =>
    void navigator.clipboard.writeText(text).then(
      () => say("Copied."),
      () =>
        say("The browser does not let it be copied: mark the text and copy it by hand.", "stop"),
    );
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        const lows = worst.flatMap((one) => (one.low_limit_c === null ? [] : [one.low_c]));
        const highs = worst.flatMap((one) => (one.high_limit_c === null ? [] : [one.high_c]));
        ask.mutate({
          text,
          low_c: lows.length ? String(Math.min(...lows)) : null,
          high_c: highs.length ? String(Math.max(...highs)) : null,
        });
      }}
    >
      <label className="block">
        <span className="block text-small text-ink2">
          The message: change it, copy it, send it your own way
        </span>
        <textarea
          className="mt-1 min-h-64 w-full rounded-part border border-line2 bg-sheet p-3"
          maxLength={2000}
          required
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <SheetFoot
        error={ask.error}
        action="Keep it with the order"
        off={ask.isPending}
        onCancel={onClose}
      >
        <Button onClick={copy}>Copy</Button>
      </SheetFoot>
    </form>
  );
}

function AnswerForm({
  care,
  consent,
  onClose,
  onAgain,
}: {
  care: Care;
  consent: Schemas["ConsentOut"];
  onClose: () => void;
  onAgain: () => void;
}) {
  const say = useToast();
  const days = care.proposals.filter((one) => one.kind === "day");
  const packs = care.proposals.filter((one) => one.kind === "packs");
  const [answer, setAnswer] = useState<Answer>(consent.answer === "" ? "as_it_is" : consent.answer);
  const [which, setWhich] = useState("");
  const [words, setWords] = useState(consent.words);
  const [on, setOn] = useState(consent.answered_on ?? new Date().toISOString().slice(0, 10));
  const note = useMutation({
    ...answerConsent(care.order_id),
    onSuccess: () => {
      say(`The answer of ${care.buyer} is saved.`);
      onClose();
    },
  });
  const choices = answer === "wait" ? days : answer === "insulated" ? packs : [];
  const chosen = choices.find((one) => one.words === which) ?? choices[0];
  const options: [Answer, string, boolean][] = [
    ["wait", "They wait", days.length > 0],
    ["insulated", "Insulated, for more", packs.length > 0],
    ["as_it_is", "As it is, at their risk", true],
  ];
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        note.mutate({ answer, words, answered_on: on, decisions: chosen?.decisions ?? null });
      }}
    >
      <p className="max-h-40 overflow-auto whitespace-pre-line rounded-part border border-line bg-ground p-3 text-small">
        {consent.text}
      </p>
      <p className="text-small text-ink2">
        Asked by {consent.asked_by} on {dayWords(consent.asked_at.slice(0, 10))}.{" "}
        <button type="button" className="text-action underline" onClick={onAgain}>
          Ask again
        </button>
      </p>
      <fieldset className="flex flex-wrap gap-x-6 gap-y-2">
        <legend className="text-small text-ink2">What they chose</legend>
        {options.map(([value, text, there]) => (
          <label
            key={value}
            className={`flex min-h-10 items-center gap-2 ${there ? "" : "opacity-45"}`}
          >
            <input
              type="radio"
              name="answer"
              className="size-5 accent-action"
              disabled={!there}
              checked={answer === value}
              onChange={() => {
                setAnswer(value);
              }}
            />
            {text}
          </label>
        ))}
      </fieldset>
      {choices.length > 0 ? (
        <Choose
          label="Which"
          value={chosen?.words ?? ""}
          options={choices.map((one) => ({ value: one.words, text: one.words }))}
          onPick={setWhich}
        />
      ) : null}
      <div className="grid grid-cols-[1fr_180px] gap-4">
        <Field
          label="Their own words"
          required
          maxLength={500}
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <Field
          label="On"
          type="date"
          required
          value={on}
          onChange={(event) => setOn(event.target.value)}
        />
      </div>
      <ProblemNote error={note.error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" disabled={note.isPending || !care.open}>
          Save the answer
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </form>
  );
}
