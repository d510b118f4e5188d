/** One supply: how it stands, put stock away, count it, its ledger. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api } from "../../api/client";
import { entries } from "../../api/cupboard";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { askAbout, numberIn, numberText } from "../../domain/numbers";
import { dayWords, ENTRY_WORDS } from "../../domain/words";
import { Button, Field, Mark, ProblemNote } from "../../ui/parts";
import { Figures } from "../../ui/Figures";
import { Pages } from "../../ui/list/ListBar";
import { Table } from "../../ui/list/Table";
import { estimateWords, isShort, placeOf, type Supply } from "./supply";
import { usePosting } from "./usePosting";

export function SupplyPanel({
  supply,
  onClose,
  onForm,
  onRetire,
}: {
  supply: Supply;
  onClose: () => void;
  /** The owner's: its facts changed, or copied; and out of use. */
  onForm?: (form: "change" | "copy") => void;
  onRetire?: () => void;
}) {
  const format = useFormat();
  const [doing, setDoing] = useState<"receive" | "count" | null>(null);
  useActions([
    { key: "p", label: "Receive stock", run: () => setDoing("receive") },
    { key: "c", label: "Count this slot", run: () => setDoing("count") },
  ]);
  const rows: [string, string][] = [
    ["On hand", format.quantity(supply.on_hand, supply.unit)],
    ["Reserved", format.quantity(supply.reserved, supply.unit)],
    ["Free", format.quantity(supply.free, supply.unit)],
    ...(Number(supply.expired) > 0
      ? [
          ["Expired, counts as none", format.quantity(supply.expired, supply.unit)] as [
            string,
            string,
          ],
        ]
      : []),
    ...(supply.good_until === null
      ? []
      : [["Good until", dayWords(supply.good_until)] as [string, string]]),
    [
      "Reorder at",
      supply.reorder_at === null ? "no mark" : format.quantity(supply.reorder_at, supply.unit),
    ],
    ["Average cost", format.unitCost(supply.average_cost, supply.unit)],
  ];
  return (
    <>
      <div className="flex items-start justify-between gap-2">
        <h2 className="text-[21px] leading-tight">{supply.name}</h2>
        <button type="button" aria-label="Esc, close" className="keycap" onClick={onClose}>
          Esc
        </button>
      </div>
      <p className="text-ink2">
        {supply.code}, shelf {placeOf(supply)}{" "}
        {isShort(supply) ? (
          <b className="text-stop">
            <Mark kind="stop" /> below the reorder mark
          </b>
        ) : null}
      </p>
      <p className="mt-1">
        <Link className="text-action underline" to={`/cupboard/${supply.id}`}>
          How it goes on, offers, where it is used
        </Link>
      </p>
      <Figures rows={rows} className="mt-3" />
      <div className="mt-3 flex gap-2.5">
        <Button kind={doing ? "plain" : "next"} hotkey="P" onClick={() => setDoing("receive")}>
          Receive stock
        </Button>
        <Button hotkey="C" onClick={() => setDoing("count")}>
          Count
        </Button>
      </div>
      {onForm ? (
        <p className="mt-2 flex gap-4 text-small">
          <TextButton hotkey="E" onClick={() => onForm("change")}>
            Change
          </TextButton>
          <TextButton hotkey="D" onClick={() => onForm("copy")}>
            Copy
          </TextButton>
          <TextButton hotkey="X" onClick={() => onRetire?.()}>
            Retire
          </TextButton>
        </p>
      ) : null}
      {supply.estimated.length > 0 ? (
        <p className="mt-2 text-small">
          <Mark kind="mind" /> Estimated: {supply.estimated.map(estimateWords).join(", ")}. Measure
          it and write it down under Change.
        </p>
      ) : null}
      {doing === "receive" ? <Receive supply={supply} onDone={() => setDoing(null)} /> : null}
      {doing === "count" ? <Count supply={supply} onDone={() => setDoing(null)} /> : null}
      <Ledger supply={supply} />
    </>
  );
}

function TextButton({
  hotkey,
  onClick,
  children,
}: {
  hotkey: string;
  onClick: () => void;
  children: string;
}) {
  return (
    <button type="button" className="min-h-9 text-action underline" onClick={onClick}>
      {children} <span className="keycap ml-1 no-underline">{hotkey}</span>
    </button>
  );
}

function Receive({ supply, onDone }: { supply: Supply; onDone: () => void }) {
  const format = useFormat();
  const [quantity, setQuantity] = useState("");
  const [cost, setCost] = useState("");
  const [note, setNote] = useState("");
  const [until, setUntil] = useState("");
  const post = usePosting(
    (now) => `${supply.name}: ${format.quantity(now.on_hand, now.unit)} on hand now.`,
    onDone,
  );
  const send = () =>
    post.send((request_key) =>
      answer(
        api.POST("/api/supplies/{supply_id}/receive", {
          params: { path: { supply_id: supply.id } },
          body: {
            quantity: format.toStock(quantity, supply.unit),
            total_cost: numberText(cost),
            note,
            good_until: until || null,
            request_key,
          },
        }),
      ),
    );
  const [many, paid] = [numberIn(quantity), numberIn(cost)];
  const each = many && paid !== null ? format.exactMoney(paid / many) : null;
  return (
    <form
      className="mt-4 flex flex-col gap-3 border-t border-line pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Quantity"
          autoFocus
          required
          inputMode="decimal"
          unit={format.stockUnit(supply.unit)}
          value={quantity}
          onChange={(event) => setQuantity(event.target.value)}
          fault={askAbout(quantity) || undefined}
        />
        <Field
          label="Total cost"
          required
          inputMode="decimal"
          value={cost}
          onChange={(event) => setCost(event.target.value)}
          hint={each ? `${each} each` : undefined}
          fault={askAbout(cost) || undefined}
        />
      </div>
      <Field
        label="Good until, where it expires"
        type="date"
        value={until}
        onChange={(event) => setUntil(event.target.value)}
      />
      <Field
        label="Note"
        maxLength={120}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <ProblemNote error={post.error} />
      <div className="flex gap-2.5">
        <Button type="submit" kind="next" disabled={post.isPending}>
          Add to stock
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

function Count({ supply, onDone }: { supply: Supply; onDone: () => void }) {
  const format = useFormat();
  const [counted, setCounted] = useState("");
  const [note, setNote] = useState("");
  const post = usePosting(
    (now) => `${supply.name}: counted, ${format.quantity(now.on_hand, now.unit)} on hand.`,
    onDone,
  );
  const send = () =>
    post.send((request_key) =>
      answer(
        api.POST("/api/supplies/{supply_id}/count", {
          params: { path: { supply_id: supply.id } },
          body: { counted: format.toStock(counted, supply.unit), note, request_key },
        }),
      ),
    );
  const off =
    numberIn(counted) === null
      ? null
      : Number(format.toStock(counted, supply.unit)) - Number(supply.on_hand);
  return (
    <form
      className="mt-4 flex flex-col gap-3 border-t border-line pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <Field
        label="Counted amount"
        autoFocus
        required
        inputMode="decimal"
        unit={format.stockUnit(supply.unit)}
        value={counted}
        onChange={(event) => setCounted(event.target.value)}
        fault={askAbout(counted) || undefined}
        hint={
          off === null
            ? `The ledger says ${format.quantity(supply.on_hand, supply.unit)}`
            : off === 0
              ? "Same as the ledger"
              : `${format.signedQuantity(off, supply.unit)} against the ledger`
        }
      />
      <Field
        label="Note"
        maxLength={120}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <ProblemNote error={post.error} />
      <div className="flex gap-2.5">
        <Button type="submit" kind="next" disabled={post.isPending}>
          Save count
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

function Ledger({ supply }: { supply: Supply }) {
  const format = useFormat();
  const [page, setPage] = useState(1);
  const list = useQuery(entries(supply.id, page));
  return (
    <section className="mt-5">
      <h3 className="text-[15px] text-ink2">Ledger, newest first</h3>
      {list.isError ? <ProblemNote error={list.error} /> : null}
      <Table
        className="text-small"
        caption={`Ledger of ${supply.name}`}
        rows={list.data?.results ?? []}
        rowKey={(entry) => entry.id}
        columns={[
          {
            key: "entry",
            name: "Entry",
            cell: (entry) => (
              <>
                {ENTRY_WORDS[entry.kind] ?? entry.kind}
                {entry.order_number ? `, order ${entry.order_number}` : ""}
                <span className="block text-ink2">
                  {dayWords(entry.at)}, {entry.by}
                  {entry.note ? `. ${entry.note}` : ""}
                </span>
              </>
            ),
          },
          {
            key: "change",
            name: "Change",
            num: true,
            cell: (entry) => format.signedQuantity(entry.quantity, supply.unit),
          },
          {
            key: "balance",
            name: "Balance",
            num: true,
            cell: (entry) =>
              entry.balance === null ? "" : format.quantity(entry.balance, supply.unit),
          },
        ]}
      />
      <Pages page={page} pages={list.data?.pages ?? 1} onTurn={setPage} back="Newer" on="Older" />
    </section>
  );
}
