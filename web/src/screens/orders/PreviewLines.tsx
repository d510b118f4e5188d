/** Every line of a file with what importing it would do, errors of the whole file, and addresses to look at. */
import type { Schemas } from "../../api/client";
import { many } from "../../domain/words";
import { Table, type Column } from "../../ui/list/Table";
import { Mark } from "../../ui/parts";

type Preview = Schemas["PreviewOut"];
type Line = Preview["lines"][number];

const VERDICTS: Record<string, string> = {
  new: "new",
  known: "already imported",
  changed: "changed",
  cancelled: "cancelled",
  void: "skipped",
  fault: "error",
  left_out: "skipped",
  total: "skipped",
};

const TONES: Record<string, string> = {
  fault: "text-stop",
  left_out: "text-mind",
  changed: "text-mind",
  cancelled: "text-mind",
};

const LINES: readonly Column<Line>[] = [
  {
    key: "line",
    name: "Line",
    num: true,
    className: "pl-6! text-ink2",
    cell: (line) => line.line,
  },
  { key: "order", name: "Order", className: "pl-4!", cell: (line) => line.order },
  {
    key: "label",
    name: "On the label",
    cell: (line) =>
      line.label.length > 0 ? (
        <>
          {line.label[0]}
          <span className="block text-small text-ink2">{line.label.slice(1).join(", ")}</span>
        </>
      ) : (
        <span className="text-ink2">{line.buyer}</span>
      ),
  },
  { key: "sku", name: "Sku", className: "whitespace-nowrap", cell: (line) => line.sku },
  { key: "quantity", name: "Quantity", num: true, cell: (line) => line.quantity },
  {
    key: "result",
    name: "Result",
    className: "pl-4! pr-6!",
    cell: (line) => (
      <>
        {line.verdict === "fault" ? <Mark kind="stop" /> : null}
        {TONES[line.verdict] === "text-mind" ? <Mark kind="mind" /> : null}{" "}
        <b className={TONES[line.verdict] ?? "font-normal"}>{VERDICTS[line.verdict]}</b>
        {line.words ? `. ${line.words}` : ""}
      </>
    ),
  },
];

export function PreviewLines({ data }: { data: Preview }) {
  const whole = data.faults.filter((fault) => !data.lines.some((line) => line.line === fault.line));
  return (
    <>
      {whole.map((fault) => (
        <p
          key={fault.line + fault.column + fault.value}
          className="flex gap-2 border-b border-line px-6 py-3"
        >
          <Mark kind="stop" />
          <span>
            {fault.line ? `Line ${fault.line}, ` : ""}
            {fault.column}: {fault.value}. Allowed: {fault.allowed}.
          </span>
        </p>
      ))}
      {data.lines.length > 0 ? (
        <Table
          caption="Every line of the file with its result"
          rows={data.lines}
          rowKey={(line, index) => `${line.line}-${index}`}
          columns={LINES}
        />
      ) : null}
      {data.more_lines > 0 ? (
        <p className="px-6 py-3 text-ink2">
          and {many(data.more_lines, "more line")}, read the same way
        </p>
      ) : null}
    </>
  );
}

/** Addresses that no carrier reaches, that cost more everywhere, or whose postcode looks odd. */
export function Places({ places }: { places: Preview["places"] }) {
  if (places.length === 0) return null;
  return (
    <section aria-labelledby="places" className="border-b border-line px-6 py-4">
      <h2 id="places" className="text-[18px] font-semibold">
        <Mark kind="mind" /> {many(places.length, "address").replace("addresss", "addresses")} to
        look at
      </h2>
      <ul className="mt-1">
        {places.slice(0, 12).map((one) => (
          <li key={one.order} className="border-t border-line py-1.5">
            <b>
              {one.order}, {one.buyer}, {one.place}.
            </b>{" "}
            {one.words.map(String).join(" ")}
          </li>
        ))}
      </ul>
      {places.length > 12 ? <p className="text-ink2">and {places.length - 12} more</p> : null}
    </section>
  );
}
