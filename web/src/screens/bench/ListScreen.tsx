/** The bench before a parcel is on it: what is being packed, and what comes next. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api } from "../../api/client";
import { orders, parcels, readyParcels } from "../../api/queries";
import { goodsWords } from "../../domain/words";
import { useActions } from "../../app/keys";
import { OPENS } from "../../ui/rows";
import { useToast } from "../../ui/overlays";
import { Button, Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { AheadSheet } from "./AheadSheet";

export function BenchListScreen() {
  const list = useQuery(parcels("packing"));
  const planned = useQuery(orders("planned", "", 1));
  const [code, setCode] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const say = useToast();
  const begin = useMutation({
    mutationFn: (order_id: number) =>
      answer(api.POST("/api/parcels/begin", { body: { order_id } })),
    onSuccess: (parcel) => {
      void client.invalidateQueries();
      void navigate(`/bench/${parcel.id}`);
    },
    onError: (error) => say(error.message, "stop"),
  });
  const next = planned.data?.results[0];
  const [ahead, setAhead] = useState(false);
  const stand = useQuery(readyParcels());
  useActions([
    { key: "a", label: "Packed ahead", run: () => setAhead(true) },
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
  const scan = () => {
    const wanted = code.trim();
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
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (code.trim()) scan();
          }}
        >
          <label className="block text-small text-ink2" htmlFor="scan">
            Scan a slip, or type an order number
          </label>
          <input
            id="scan"
            autoFocus
            value={code}
            onChange={(event) => setCode(event.target.value)}
            onKeyDown={(event) => {
              if (code !== "") return;
              if (event.key.toLowerCase() === "a") {
                event.preventDefault();
                setAhead(true);
              }
              if (event.key.toLowerCase() === "n" && next) {
                event.preventDefault();
                begin.mutate(next.id);
              }
            }}
            className="mt-1 min-h-12 w-80 rounded-part border border-line2 bg-ground px-4 text-bench"
          />
        </form>
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
          <table className="rule-table mt-5 text-lead">
            <caption className="sr-only">Parcels at the bench</caption>
            <thead>
              <tr>
                <th scope="col">Order</th>
                <th scope="col">For</th>
                <th scope="col">Container</th>
                <th scope="col" className="num">
                  Step
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.id} {...OPENS}>
                  <td>
                    <Link
                      className="inline-flex min-h-11 items-center font-semibold text-action hover:underline"
                      to={`/bench/${row.id}`}
                    >
                      {row.number}
                      {row.parts > 1 ? `, ${row.part} of ${row.parts}` : ""}
                    </Link>
                  </td>
                  <td className="align-middle!">{row.buyer}</td>
                  <td className="align-middle!">{row.container}</td>
                  <td className="num align-middle!">{row.step + 1}</td>
                </tr>
              ))}
            </tbody>
          </table>
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
