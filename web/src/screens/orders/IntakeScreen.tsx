/** Import: a file, line by line, before anything is saved. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { importOrders, previewOrders } from "../../api/mutations";
import { type Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { many } from "../../domain/words";
import { fileText } from "../../ui/files";
import { Table, type Column } from "../../ui/list/Table";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Mark, ProblemNote, ScreenHead } from "../../ui/parts";

interface Chosen {
  name: string;
  content_base64: string;
}

const DRAFT = "import-file";

function savedFile(): Chosen | null {
  const text = window.sessionStorage.getItem(DRAFT);
  return text ? (JSON.parse(text) as Chosen) : null;
}

/** A reload keeps the chosen file where the browser has room for it. */
function keep(file: Chosen | null) {
  if (file === null || file.content_base64.length > 1_000_000)
    window.sessionStorage.removeItem(DRAFT);
  else window.sessionStorage.setItem(DRAFT, JSON.stringify(file));
}

export function IntakeScreen() {
  const [file, setFile] = useState<Chosen | null>(savedFile);
  const input = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const say = useToast();
  const preview = useMutation({
    ...previewOrders(),
  });
  const accept = useMutation({
    ...importOrders(),
    onSuccess: (did) => {
      keep(null);
      say(
        `${many(did.new_orders, "order")} imported${did.known_orders ? `, ${did.known_orders} already imported` : ""}${did.left_out_lines ? `, ${many(did.left_out_lines, "line")} skipped` : ""}.`,
      );
      void navigate("/orders");
    },
  });
  const look = preview.mutate;
  useEffect(() => {
    if (file) look(file);
  }, [file, look]);
  const choose = async (chosen: File | undefined) => {
    if (!chosen) return;
    const next = { name: chosen.name, content_base64: await fileText(chosen) };
    keep(next);
    setFile(next);
  };
  const good = preview.data?.new_orders ?? 0;
  const take = () => {
    if (file && good > 0 && !accept.isPending) accept.mutate(file);
  };
  useActions([
    { key: "o", label: "Choose a file", run: () => input.current?.click() },
    { key: "enter", label: "Import the valid orders", run: take, off: good === 0 },
    {
      key: "escape",
      label: "Back to the orders",
      run: () => {
        keep(null);
        void navigate("/orders");
      },
    },
  ]);
  return (
    <>
      <ScreenHead
        title={file ? file.name : "Import orders"}
        under={
          preview.data ? (
            <Sum data={preview.data} />
          ) : (
            "A CSV or JSON file of one of your channels. You see every line before anything is saved."
          )
        }
      >
        <input
          ref={input}
          type="file"
          accept=".csv,.json,.txt,text/csv,application/json"
          className="sr-only"
          aria-label="Orders file"
          tabIndex={-1}
          onChange={(event) => {
            void choose(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
        <Button
          onClick={() => {
            keep(null);
            void navigate("/orders");
          }}
          hotkey="Esc"
        >
          Cancel
        </Button>
        <Button kind={file ? "plain" : "next"} hotkey="O" onClick={() => input.current?.click()}>
          {file ? "Another file" : "Choose the file"}
        </Button>
        {file ? (
          <Button
            kind="next"
            hotkey="Enter"
            disabled={good === 0 || accept.isPending}
            onClick={take}
          >
            {good === 0 ? "Nothing to import" : `Import ${many(good, "order")}`}
          </Button>
        ) : null}
      </ScreenHead>
      <div className="bg-sheet">
        {preview.isError || accept.isError ? (
          <div className="p-6">
            <ProblemNote error={accept.error ?? preview.error} />
          </div>
        ) : null}
        {!file ? (
          <Empty title="No file chosen yet">
            <p>
              The columns it may have are in docs/formats/orders.md; demo/orders.csv is a sample.
            </p>
          </Empty>
        ) : null}
        {preview.data ? <Preview data={preview.data} /> : null}
      </div>
    </>
  );
}

function Sum({ data }: { data: Schemas["PreviewOut"] }) {
  const faults = data.faults.length;
  return (
    <span>
      {data.new_orders} new, {data.known_orders} already imported, {data.left_out_orders} skipped.{" "}
      {faults > 0 ? (
        <b className="text-stop">
          <Mark kind="stop" /> {many(faults, "error")}: fix the file and try again, or import the
          valid orders.
        </b>
      ) : (
        "No errors."
      )}
      {data.encoding === "windows-1252" ? (
        <span className="block text-mind">
          <Mark kind="mind" /> The file is not UTF-8: it was read as Windows-1252. Check the names
          with accents below.
        </span>
      ) : null}
    </span>
  );
}

const VERDICTS: Record<string, string> = {
  new: "new",
  known: "already imported",
  fault: "error",
  left_out: "skipped",
};

type Line = Schemas["PreviewOut"]["lines"][number];

const TONES: Record<string, string> = { fault: "text-stop", left_out: "text-mind" };

const LINES: readonly Column<Line>[] = [
  {
    key: "line",
    name: "Line",
    num: true,
    className: "pl-6! text-ink2",
    cell: (line) => line.line,
  },
  { key: "order", name: "Order", className: "pl-4!", cell: (line) => line.order },
  { key: "buyer", name: "Buyer", cell: (line) => line.buyer },
  { key: "sku", name: "Sku", className: "whitespace-nowrap", cell: (line) => line.sku },
  { key: "quantity", name: "Quantity", num: true, cell: (line) => line.quantity },
  {
    key: "result",
    name: "Result",
    className: "pl-4! pr-6!",
    cell: (line) => (
      <>
        {line.verdict === "fault" ? <Mark kind="stop" /> : null}
        {line.verdict === "left_out" ? <Mark kind="mind" /> : null}{" "}
        <b className={TONES[line.verdict] ?? "font-normal"}>{VERDICTS[line.verdict]}</b>
        {line.words ? `. ${line.words}` : ""}
      </>
    ),
  },
];

function Preview({ data }: { data: Schemas["PreviewOut"] }) {
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
          rowKey={(line) => line.line}
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
