/** The bench before a parcel is on it: what is being packed, and what comes next. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { beginParcel, parcels, readyParcels } from "../../api/bench";
import { orders } from "../../api/orders";
import { goodsWords } from "../../domain/words";
import { useActions } from "../../app/keys";
import { Table, type Column } from "../../ui/list/Table";
import { useToast } from "../../ui/useToast";
import { ScanField } from "../../ui/ScanField";
import { BESIDE, Button, Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { AheadSheet } from "./AheadSheet";

const COLUMNS: readonly Column<Schemas["ParcelRow"]>[] = [
  {
    key: "order",
    name: "Order",
    cell: (row) => (
      <Link
        className="inline-flex min-h-11 items-center font-semibold text-action hover:underline"
        to={`/bench/${row.id}`}
      >
        {row.number}
        {row.parts > 1 ? `, ${row.part} of ${row.parts}` : ""}
      </Link>
    ),
  },
  { key: "buyer", name: "For", className: "align-middle!", cell: (row) => row.buyer },
  { key: "container", name: "Container", className: "align-middle!", cell: (row) => row.container },
  { key: "step", name: "Step", num: true, className: "align-middle!", cell: (row) => row.step + 1 },
];

export function BenchListScreen() {
  const list = useQuery(parcels("packing"));
  const planned = useQuery(orders("planned", "", 1));
  const navigate = useNavigate();
  const say = useToast();
  const begin = useMutation({
    ...beginParcel(),
    onSuccess: (parcel) => {
      void navigate(`/bench/${parcel.id}`);
    },
    onError: (error) => say(error.message, "stop"),
  });
  const next = planned.data?.results[0];
  const [ahead, setAhead] = useState(false);
  const stand = useQuery(readyParcels());
  useActions([
    { key: "a", label: "Packed ahead", run: () => setAhead(true) },
    { key: "x", label: "Practice", run: () => void navigate("/practice") },
    {
      key: "n",
      label: "Start the next planned order",
      run: () => next && begin.mutate(next.id),
      off: !next,
    },
  ]);
  if (list.isPending) return <Waiting what="the bench" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const rows = list.data.results;
  const scan = (wanted: string) => {
    const here = rows.find((row) => row.number === wanted);
    const waiting = planned.data?.results.find((order) => order.number === wanted);
    if (here) void navigate(`/bench/${here.id}`);
    else if (waiting) begin.mutate(waiting.id);
    else say(`No order ${wanted} is at the bench or planned.`, "stop");
  };
  return (
    <>
      <ScreenHead
        title={
          rows.length === 0
            ? "The bench is free"
            : `${rows.length} ${rows.length === 1 ? "parcel" : "parcels"} at the bench`
        }
        under={next ? `${planned.data?.count ?? 0} planned orders wait` : "No planned order waits"}
      >
        <Button hotkey="X" onClick={() => void navigate("/practice")}>
          Practice
        </Button>
        <Button hotkey="A" onClick={() => setAhead(true)}>
          Packed ahead{stand.data ? `: ${stand.data.count}` : ""}
        </Button>
        <Button
          kind="next"
          hotkey="N"
          disabled={!next || begin.isPending}
          onClick={() => next && begin.mutate(next.id)}
        >
          {next ? `Start ${next.number}` : "Nothing to start"}
        </Button>
      </ScreenHead>
      <AheadSheet open={ahead} onClose={() => setAhead(false)} />
      <div className="bg-sheet px-6 py-5 text-lead">
        <ScanField
          label="Scan a slip, or type an order number"
          onCode={scan}
          keys={{
            a: () => setAhead(true),
            x: () => void navigate("/practice"),
            ...(next ? { n: () => begin.mutate(next.id) } : {}),
          }}
        />
        <p className="mt-2 text-small text-ink2">
          The bench works by a scanner alone, too:{" "}
          <a className="text-action underline" href="/api/bench/codes.pdf" {...BESIDE}>
            print the sheet of codes
          </a>{" "}
          for its keys.
        </p>
        {rows.length === 0 ? (
          <Empty title="Nothing is being packed">
            <p>
              Start the next planned order with N, or open one under{" "}
              <Link className="text-action underline" to="/plan">
                Plan
              </Link>
              .
            </p>
          </Empty>
        ) : (
          <Table
            className="mt-5 text-lead"
            caption="Parcels at the bench"
            opens
            rows={rows}
            rowKey={(row) => row.id}
            columns={COLUMNS}
          />
        )}
        {next ? (
          <p className="mt-6 text-ink2">
            Next: {next.number}, {next.buyer}. {goodsWords(next.lines)}
          </p>
        ) : null}
      </div>
    </>
  );
}
