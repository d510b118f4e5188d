/** What only a person can say of an unknown file, each with its answers beside it. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Pick } from "../../ui/Pick";
import { Button, Field, Mark } from "../../ui/parts";
import {
  amountReadings,
  asked,
  dayReadings,
  MEANINGS,
  withColumn,
  withConstant,
  withWord,
  type Matching,
} from "./matching";

type Question = Schemas["QuestionOut"];

interface Props {
  questions: readonly Question[];
  columns: readonly Schemas["ColumnOut"][];
  /** Codes of countries the price lists know. */
  countries: readonly string[];
  matching: Matching;
  onMatching: (now: Matching) => void;
}

const NONE = "-";

export function Questions({ questions, ...rest }: Props) {
  if (questions.length === 0) return null;
  return (
    <section aria-labelledby="questions" className="border-b border-line bg-mind-soft px-6 py-4">
      <h2 id="questions" className="text-[18px] font-semibold">
        <Mark kind="mind" />{" "}
        {questions.length === 1 ? "One answer is" : `${questions.length} answers are`} needed first
      </h2>
      <ul className="mt-2 flex flex-col gap-2">
        {questions.map((one) => (
          <li
            key={`${one.about}-${one.field}-${one.sample}`}
            className="flex flex-wrap items-center gap-x-4 gap-y-2"
          >
            <span className="min-w-72">{asked(one)}</span>
            <Answer question={one} {...rest} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Answer({
  question,
  columns,
  countries,
  matching,
  onMatching,
}: Omit<Props, "questions"> & { question: Question }) {
  const { about, field, sample } = question;
  if (about === "day_order")
    return (
      <Choices
        options={dayReadings(sample)}
        onPick={(value) => onMatching({ ...matching, day_order: value as "day_first" })}
      />
    );
  if (about === "decimal_mark")
    return (
      <Choices
        options={amountReadings(sample)}
        onPick={(value) => onMatching({ ...matching, decimal_mark: value as "point" })}
      />
    );
  if (about === "word" && MEANINGS[field])
    return (
      <Choices
        options={MEANINGS[field]}
        onPick={(value) => onMatching(withWord(matching, field, sample, value))}
      />
    );
  if (about === "word")
    return (
      <>
        <Choices
          options={countries.slice(0, 8).map((code) => ({ value: code, text: code }))}
          onPick={(code) => onMatching(withWord(matching, field, sample, code))}
        />
        <Typed
          label="or another code"
          onDone={(text) => onMatching(withWord(matching, field, sample, text.toUpperCase()))}
        />
      </>
    );
  return (
    <>
      <Pick
        label={asked(question)}
        value={NONE}
        options={[
          { value: NONE, text: "Choose a column" },
          ...columns.map((one) => ({
            value: one.name,
            text: one.samples[0] ? `${one.name} (${one.samples[0]})` : one.name,
          })),
        ]}
        onPick={(column) => column !== NONE && onMatching(withColumn(matching, field, column))}
        className="min-w-56"
      />
      {field === "country" || field === "town" ? (
        <Typed
          label={field === "country" ? "or the same for all" : "or the same for all orders"}
          onDone={(text) =>
            onMatching(
              withConstant(matching, field, field === "country" ? text.toUpperCase() : text),
            )
          }
        />
      ) : null}
    </>
  );
}

function Choices({
  options,
  onPick,
}: {
  options: readonly { value: string; text: string }[];
  onPick: (value: string) => void;
}) {
  return (
    <span className="flex flex-wrap gap-2">
      {options.map((one) => (
        <Button key={one.value} onClick={() => onPick(one.value)}>
          {one.text}
        </Button>
      ))}
    </span>
  );
}

function Typed({ label, onDone }: { label: string; onDone: (text: string) => void }) {
  const [text, setText] = useState("");
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim()) onDone(text.trim());
      }}
    >
      <Field
        label={label}
        className="w-48"
        maxLength={60}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" disabled={!text.trim()}>
        Use
      </Button>
    </form>
  );
}
