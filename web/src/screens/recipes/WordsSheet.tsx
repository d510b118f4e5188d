/** What holds for all sizes: checks, cautions, work ahead, notes; a line a sentence. */
import { useId, useState } from "react";
import { Sheet } from "../../ui/Sheet";
import { Button, Notice } from "../../ui/parts";
import type { RecipeDoc } from "./rows";
import { readWords, wordsOf, type WordFields } from "./words";

const FIELDS: { key: keyof WordFields; label: string; hint: string; rows: number }[] = [
  {
    key: "goods_checks",
    label: "Check the goods",
    hint: "A line each: cracks, lids, labels, dates",
    rows: 3,
  },
  { key: "wrap_note", label: "How to wrap", hint: "One line, shown at the wrapping step", rows: 2 },
  {
    key: "proving_checks",
    label: "Test before closing",
    hint: "A line each, with the flaps open: shake, flaps push back",
    rows: 3,
  },
  {
    key: "closed_checks",
    label: "Test after closing",
    hint: "A line each: turn it over",
    rows: 2,
  },
  {
    key: "mailer_checks",
    label: "Test of a mailer",
    hint: "A line each, in place of both when it goes in a mailer",
    rows: 2,
  },
  { key: "cautions", label: "Cautions", hint: "A line each, shown where the hands are", rows: 2 },
  {
    key: "ahead",
    label: "Before packing",
    hint: "A line each: hours, minutes of hands, what. 12 | 2 | Freeze the gel packs",
    rows: 2,
  },
  { key: "buyer_note", label: "For the buyer", hint: "Printed on the slip", rows: 1 },
  {
    key: "mix",
    label: "For a named mix only",
    hint: "Empty: for single products. A line each: 2 PRE-BLK",
    rows: 2,
  },
  { key: "name", label: "Name of the recipe", hint: "", rows: 1 },
];

export function WordsSheet({
  open,
  onClose,
  doc,
  locked,
  onChange,
}: {
  open: boolean;
  onClose: () => void;
  doc: RecipeDoc;
  locked: boolean;
  onChange: (doc: RecipeDoc) => void;
}) {
  const [fields, setFields] = useState<WordFields>(() => wordsOf(doc));
  const [trial, setTrial] = useState(doc.trial_needed);
  const [fault, setFault] = useState("");
  const id = useId();
  const done = () => {
    const next = readWords(doc, fields);
    if (typeof next === "string") {
      setFault(next);
      return;
    }
    const whole = { ...next, trial_needed: trial };
    if (JSON.stringify(whole) !== JSON.stringify(doc)) onChange(whole);
    onClose();
  };
  return (
    <Sheet open={open} onOpenChange={(now) => !now && onClose()} title="For all order sizes" wide>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          done();
        }}
      >
        {fault ? <Notice kind="stop">{fault}</Notice> : null}
        <div className="grid grid-cols-2 gap-x-5 gap-y-3 max-md:grid-cols-1">
          {FIELDS.map((field) => (
            <div key={field.key}>
              <label htmlFor={`${id}-${field.key}`} className="block text-small text-ink2">
                {field.label}
              </label>
              <textarea
                id={`${id}-${field.key}`}
                rows={field.rows}
                readOnly={locked}
                value={fields[field.key]}
                onChange={(event) => setFields({ ...fields, [field.key]: event.target.value })}
                className="mt-1 w-full resize-y rounded-part border border-line2 bg-sheet px-3 py-1.5"
                aria-describedby={`${id}-${field.key}-hint`}
              />
              <p id={`${id}-${field.key}-hint`} className="text-tiny text-ink2">
                {field.hint}
              </p>
            </div>
          ))}
        </div>
        <label className="flex min-h-10 items-center gap-3">
          <input
            type="checkbox"
            className="size-5"
            checked={trial}
            disabled={locked}
            onChange={(event) => setTrial(event.target.checked)}
          />
          Not ready before a test of the version is passed
        </label>
        <div className="sticky -bottom-6 -mx-6 flex gap-3 border-t border-line bg-sheet px-6 py-3">
          {locked ? null : (
            <Button type="submit" kind="next">
              Apply
            </Button>
          )}
          <Button onClick={onClose}>{locked ? "Close" : "Cancel"}</Button>
        </div>
      </form>
    </Sheet>
  );
}
