/** A closed parcel: what went out, its papers, and for the owner the way back. */
import { useState } from "react";
import { useNavigate } from "react-router";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords, momentWords } from "../../domain/words";
import { Table } from "../../ui/list/Table";
import { BESIDE, Button, LinkButton, Mark, Notice, ProblemNote } from "../../ui/parts";
import { ReasonSheet } from "../../ui/ReasonSheet";
import type { Bench } from "./useBench";
import { nextOfWave } from "./wave";

type Parcel = Bench["parcel"];

export function ClosedParcel({ bench }: { bench: Bench }) {
  const { parcel: p } = bench;
  const who = useSession();
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const rest = p.parts.find((part) => part.state === "packing");
  const inWave = rest ? null : nextOfWave(p.id);
  const onward = () =>
    void navigate(rest || inWave ? `/bench/${rest?.id ?? inWave ?? ""}` : "/bench");
  const onwardWords = rest
    ? `On to parcel ${rest.part} of ${p.parts.length}`
    : inWave
      ? "On to the next of the wave"
      : "To the next parcel";
  useActions([
    { key: " ", label: onwardWords, run: onward },
    { key: "t", label: "Track the parcel", run: bench.track },
  ]);
  return (
    <main className="mx-auto max-w-4xl px-8 py-9">
      <p className="text-lead text-ink2">
        <Mark kind="done" /> Closed by {p.closed_by}
        {p.closed_at ? `, ${momentWords(p.closed_at)}` : ""}
      </p>
      <h1 className="mt-1 text-[38px] leading-tight">
        {p.order.number}, {p.order.buyer}
        {p.parts.length > 1 ? `: parcel ${p.part} of ${p.parts.length} is packed` : " is packed"}
      </h1>
      <WentOut parcel={p} />
      <div className="mt-6 flex flex-wrap gap-3">
        <Button kind="next" hotkey="Space" className="min-h-12" onClick={onward}>
          {onwardWords}
        </Button>
        <LinkButton className="min-h-12" href={`/api/parcels/${p.id}/label.pdf`} {...BESIDE}>
          Label again
        </LinkButton>
        <LinkButton className="min-h-12" href={`/api/parcels/${p.id}/slip.pdf`} {...BESIDE}>
          Packing slip
        </LinkButton>
        <Button className="min-h-12" hotkey="T" disabled={bench.busy} onClick={bench.track}>
          Track parcel
        </Button>
        {who.role === "owner" ? (
          <Button className="min-h-12" onClick={() => setOpen(true)}>
            Reopen
          </Button>
        ) : null}
      </div>
      {bench.error ? (
        <div className="mt-4">
          <ProblemNote error={bench.error} />
        </div>
      ) : null}
      <FromTheCarrier parcel={p} />
      <h2 className="mt-8 text-lead text-ink2">Stock used</h2>
      <Used parcel={p} />
      <ReasonSheet
        open={open}
        onOpenChange={setOpen}
        title={`Reopen order ${p.order.number}`}
        description="Everything it used goes back to stock. The label is kept; it can be cancelled then, and the order held or cancelled."
        action="Reopen it"
        most={160}
        onReason={(words) => {
          setOpen(false);
          bench.reopen(words);
        }}
      />
    </main>
  );
}

function WentOut({ parcel: p }: { parcel: Parcel }) {
  const format = useFormat();
  return (
    <dl className="mt-5 grid grid-cols-[11rem_1fr] gap-y-2 text-bench">
      <dt className="text-ink2">Tracking</dt>
      <dd className="font-semibold">{p.tracking}</dd>
      <dt className="text-ink2">Weighed</dt>
      <dd>
        {p.measured_mg ? format.weight(p.measured_mg) : ""}, expected{" "}
        {format.weight(p.candidate.weight.gross_mg)}
      </dd>
      <dt className="text-ink2">Postage</dt>
      <dd>
        {p.postage ? format.money(p.postage) : ""}, the buyer paid{" "}
        {format.money(p.order.postage_charged)}
        {p.charge_agreed
          ? `; ${format.money(p.charge_agreed)} expected, for what it weighed at the end`
          : ""}
      </dd>
      <dt className="text-ink2">Recipe</dt>
      <dd>
        {Object.entries(p.recipe_versions)
          .map(([code, version]) => `${code}, version ${version}`)
          .join("; ")}
      </dd>
    </dl>
  );
}

/** What the carrier measured and charged afterwards, and where the parcel has been. */
function FromTheCarrier({ parcel: p }: { parcel: Parcel }) {
  const format = useFormat();
  return (
    <>
      {p.label && Number(p.label.charged_more) > 0 ? (
        <div className="mt-4">
          <Notice kind="mind">
            <b>
              The carrier measured it again
              {p.label.measured_mg ? ` at ${format.weight(p.label.measured_mg)}` : ""} and charges{" "}
              {format.money(p.label.charged_more)} more.
            </b>{" "}
            You weighed {p.measured_mg ? format.weight(p.measured_mg) : "nothing"}. If that is
            wrong, ask them with your scale's reading.
          </Notice>
        </div>
      ) : null}
      {p.label && p.label.events.length > 0 ? (
        <ol className="mt-4 flex flex-wrap gap-x-6 text-lead" aria-label="Tracking events">
          {p.label.events.map((event, index) => (
            <li key={index}>
              <span className="text-ink2">{dayWords(event.on)}</span> {event.words}
            </li>
          ))}
        </ol>
      ) : null}
    </>
  );
}

function Used({ parcel: p }: { parcel: Parcel }) {
  const format = useFormat();
  const refs = new Map(p.supplies.map((ref) => [ref.code, ref]));
  return (
    <Table
      caption="Stock used"
      heads={false}
      rows={p.candidate.uses}
      rowKey={(_, index) => index}
      columns={[
        { key: "supply", name: "Supply", cell: (use) => refs.get(use.supply)?.name ?? use.supply },
        { key: "detail", name: "For", className: "text-ink2", cell: (use) => use.detail },
        {
          key: "quantity",
          name: "Quantity",
          num: true,
          cell: (use) => format.quantity(use.quantity, refs.get(use.supply)?.unit ?? "pieces"),
        },
      ]}
    />
  );
}
