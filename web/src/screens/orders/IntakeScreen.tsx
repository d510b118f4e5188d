/** Import: a file, its columns matched when they are new, line by line, before anything is saved. */
import { useMutation } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { importOrders, previewOrders } from "../../api/orders";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { many } from "../../domain/words";
import { fileText } from "../../ui/files";
import { useRested } from "../../ui/useRested";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Field, Mark, Notice, ProblemNote, ScreenHead } from "../../ui/parts";
import { matchingOf, type Matching } from "./matching";
import { MatchingTable } from "./MatchingTable";
import { Places, PreviewLines } from "./PreviewLines";
import { Questions } from "./Questions";
import { UnknownGoods } from "./UnknownGoods";

interface Chosen {
  name: string;
  content_base64: string;
}

type Preview = Schemas["PreviewOut"];

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

/** The file, what the person said of it, and what importing it would do. */
function useIntake() {
  const [file, setFile] = useState<Chosen | null>(savedFile);
  const [matching, setMatching] = useState<Matching | null>(null);
  const [name, setName] = useState<string | null>(null);
  const [goods, setGoods] = useState<Record<string, string>>({});
  const preview = useMutation({ ...previewOrders() });
  const look = preview.mutate;
  const channel = name ?? preview.data?.channel ?? "";
  const sent = file ? { ...file, matching, channel: matching ? channel : "", goods } : null;
  // Which orders were imported before depends on the channel: asked again when its name is typed.
  const rested = useRested(channel.trim(), 400);
  useEffect(() => {
    if (file) look({ ...file, matching, channel: rested, goods });
  }, [file, matching, goods, rested, look]);
  const choose = useCallback(async (chosen: File | undefined) => {
    if (!chosen) return;
    const next = { name: chosen.name, content_base64: await fileText(chosen) };
    keep(next);
    setMatching(null);
    setName(null);
    setGoods({});
    setFile(next);
  }, []);
  const shown = preview.data?.matching ?? null;
  return {
    file,
    choose,
    preview,
    shown,
    /** As it is read now: what the person said, or what was found. */
    read: matching ?? (shown ? matchingOf(shown) : null),
    setMatching,
    channel,
    setName,
    goods,
    match: (said: string, sku: string | null) =>
      setGoods((now) => {
        const next = { ...now };
        if (sku === null) delete next[said];
        else next[said] = sku;
        return next;
      }),
    sent,
  };
}

export function IntakeScreen() {
  const input = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const say = useToast();
  const intake = useIntake();
  const { file, preview, shown, read } = intake;
  const accept = useMutation({
    ...importOrders(),
    onSuccess: (did) => {
      keep(null);
      say(done(did));
      const changes = did.changed_orders + did.cancelled_orders > 0;
      void navigate(changes && did.new_orders === 0 ? "/orders/changes" : "/orders");
    },
  });
  const data = preview.data;
  const asks = data?.kind === "asked";
  const open = shown?.questions.length ?? 0;
  const good =
    (data?.new_orders ?? 0) + (data?.changed_orders ?? 0) + (data?.cancelled_orders ?? 0);
  const named = !asks || intake.channel.trim() !== "";
  const ready = good > 0 && open === 0 && named && !accept.isPending && !preview.isPending;
  const take = () => {
    if (!ready || !intake.sent) return;
    accept.mutate(asks ? { ...intake.sent, matching: read, channel: intake.channel } : intake.sent);
  };
  const leave = () => {
    keep(null);
    void navigate("/orders");
  };
  useActions([
    { key: "o", label: "Choose a file", run: () => input.current?.click() },
    { key: "enter", label: "Import the valid orders", run: take, off: !ready },
    { key: "escape", label: "Back to the orders", run: leave },
  ]);
  return (
    <>
      <ScreenHead
        title={file ? file.name : "Import orders"}
        under={<Under data={data} open={open} />}
      >
        <input
          ref={input}
          type="file"
          accept=".csv,.json,.txt,.tsv,.xlsx,text/csv,application/json"
          className="sr-only"
          aria-label="Orders file"
          tabIndex={-1}
          onChange={(event) => {
            void intake.choose(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
        <Button onClick={leave} hotkey="Esc">
          Cancel
        </Button>
        <Button kind={file ? "plain" : "next"} hotkey="O" onClick={() => input.current?.click()}>
          {file ? "Another file" : "Choose the file"}
        </Button>
        {file ? (
          <Button kind="next" hotkey="Enter" disabled={!ready} onClick={take}>
            {accept.isPending
              ? `Importing ${many(data?.new_orders ?? 0, "order")}…`
              : open > 0
                ? `${many(open, "answer")} needed`
                : !named
                  ? "Name the channel"
                  : label(data)}
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
              Any CSV, .xlsx or JSON file of a channel. The first time you say which column is
              which; after that the file is read without a question.
            </p>
          </Empty>
        ) : null}
        {data && shown && read ? (
          <Matched data={data} shown={shown} read={read} intake={intake} />
        ) : null}
        {data ? (
          <>
            <Elsewhere found={data.elsewhere} />
            <UnknownGoods unknown={data.unknown} matched={intake.goods} onMatch={intake.match} />
            <Places places={data.places} />
            {open > 0 ? (
              <p className="px-6 py-4 text-ink2">
                Its lines are shown here as soon as that is answered.
              </p>
            ) : (
              <PreviewLines data={data} />
            )}
          </>
        ) : null}
      </div>
    </>
  );
}

/** How the columns are read: asked about when they are new, otherwise told in a line. */
function Matched({
  data,
  shown,
  read,
  intake,
}: {
  data: Preview;
  shown: Schemas["MatchingOut"];
  read: Matching;
  intake: ReturnType<typeof useIntake>;
}) {
  const [showing, setShowing] = useState(false);
  const asks = data.kind === "asked";
  return (
    <>
      {asks ? (
        <Channel
          name={intake.channel}
          known={data.channel}
          onName={intake.setName}
          questions={shown.questions.length}
        />
      ) : null}
      <Questions
        questions={shown.questions}
        columns={shown.columns}
        countries={shown.countries}
        matching={read}
        onMatching={intake.setMatching}
      />
      {asks || showing ? (
        <MatchingTable shown={shown} matching={read} onMatching={intake.setMatching} />
      ) : (
        <p className="border-b border-line px-6 py-2.5 text-ink2">
          Read as the files of <b className="text-ink">{data.channel}</b>.{" "}
          <button
            type="button"
            className="min-h-8 text-action underline"
            onClick={() => setShowing(true)}
          >
            Show how
          </button>
        </p>
      )}
    </>
  );
}

/** The same orders under another name would be packed twice. */
function Elsewhere({ found }: { found: Preview["elsewhere"] }) {
  if (found.length === 0) return null;
  return (
    <Notice kind="mind">
      {found
        .map((one) => `${many(one.orders, "order")} of this file came from ${one.channel} already`)
        .join("; ")}
      . If it is the same channel, give it that name: then they are not imported twice.
    </Notice>
  );
}

function Channel({
  name,
  known,
  onName,
  questions,
}: {
  name: string;
  known: string;
  onName: (name: string) => void;
  questions: number;
}) {
  return (
    <div className="flex flex-wrap items-end gap-x-6 gap-y-2 border-b border-line px-6 py-4">
      <Field
        label="Channel"
        className="w-64"
        maxLength={30}
        value={name}
        placeholder="Where these were sold"
        onChange={(event) => onName(event.target.value)}
      />
      <p className="min-w-0 max-w-2xl grow basis-72 text-ink2">
        {known
          ? `Looks like a file of ${known} with other columns. Check what is read below; it is kept for ${known} then.`
          : `The columns of this file are new here. ${questions > 0 ? "Answer what is asked, then check" : "Check"} what is read below and give the channel a name: its next file is read without a question.`}
      </p>
    </div>
  );
}

function label(data: Preview | undefined): string {
  if (!data) return "Reading";
  if (data.new_orders > 0) return `Import ${many(data.new_orders, "order")}`;
  const others = data.changed_orders + data.cancelled_orders;
  return others > 0 ? `Note ${many(others, "change")}` : "Nothing to import";
}

function done(did: Schemas["AcceptOut"]): string {
  const changed = did.changed_orders + did.cancelled_orders;
  return [
    `${many(did.new_orders, "order")} imported`,
    did.known_orders ? `${did.known_orders} already imported` : "",
    changed ? `${changed} changed or cancelled: look at them under Changes` : "",
    did.left_out_lines ? `${many(did.left_out_lines, "line")} skipped` : "",
  ]
    .filter(Boolean)
    .join(", ")
    .concat(".");
}

function Under({ data, open }: { data: Preview | undefined; open: number }) {
  if (!data) return "You see every line before anything is saved.";
  if (open > 0) return "A file with columns of its own. Nothing is saved before you import it.";
  const faults = data.faults.length;
  const parts = [
    `${data.new_orders} new`,
    `${data.known_orders} already imported`,
    data.changed_orders ? `${data.changed_orders} changed` : "",
    data.cancelled_orders ? `${data.cancelled_orders} cancelled` : "",
    `${data.left_out_orders + data.void_orders} skipped`,
  ];
  return (
    <span>
      {parts.filter(Boolean).join(", ")}.{" "}
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
