/** Practice before it begins: which order, and how earlier ones went. Each person sees their own. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { orders } from "../../api/orders";
import { beginPractice, deletePractice, practices } from "../../api/practice";
import { useActions } from "../../app/keys";
import { many, momentWords } from "../../domain/words";
import { Pager } from "../../ui/Pager";
import { ScanField } from "../../ui/ScanField";
import { Table, type Column } from "../../ui/list/Table";
import { useAddress } from "../../ui/list/useList";
import { Button, Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { useToast } from "../../ui/useToast";

type Row = Schemas["PracticeRow"];

const columns = (remove: (row: Row) => void, busy: boolean): readonly Column<Row>[] => [
  {
    key: "order",
    name: "Order",
    cell: (row) => (
      <Link
        className="inline-flex min-h-11 items-center font-semibold text-action hover:underline"
        to={`/practice/${row.id}`}
      >
        {row.number}
      </Link>
    ),
  },
  {
    key: "begun",
    name: "Begun",
    className: "align-middle!",
    cell: (row) => momentWords(row.begun_at),
  },
  {
    key: "ended",
    name: "Status",
    className: "align-middle!",
    cell: (row) => (row.ended_at ? "Done" : "Not finished"),
  },
  {
    key: "delete",
    name: <span className="sr-only">Delete</span>,
    cell: (row) => (
      <Button kind="quiet" disabled={busy} onClick={() => remove(row)}>
        Delete<span className="sr-only">: order {row.number}</span>
      </Button>
    ),
  },
];

export function PracticeListScreen() {
  const [params, set] = useAddress();
  const page = Number(params.get("page") ?? "1") || 1;
  const list = useQuery(practices(page));
  const planned = useQuery(orders("planned", "", 1));
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useToast();
  const begin = useMutation({
    ...beginPractice(),
    onSuccess: (run) => void navigate(`/practice/${run.id}`),
    onError: (error) => say(error.message, "stop"),
  });
  const remove = useMutation({
    ...deletePractice(),
    onSuccess: () => say("Deleted. Nothing of it is kept."),
    onError: (error) => say(error.message, "stop"),
  });
  const next = planned.data?.results[0];
  const start = () => next && begin.mutate(next.id);
  useActions([{ key: "n", label: "Practise with the next planned order", run: start, off: !next }]);
  const scan = (wanted: string) =>
    void client.fetchQuery(orders(undefined, wanted, 1)).then(
      (found) => {
        const here = found.results.find((order) => order.number === wanted);
        if (here) begin.mutate(here.id);
        else
          say(`There is no order ${wanted}. Type the number of a planned or packed one.`, "stop");
      },
      (error: Error) => say(error.message, "stop"),
    );
  return (
    <>
      <ScreenHead
        title={
          list.data && list.data.count > 0
            ? `You practised ${list.data.count === 1 ? "once" : many(list.data.count, "time")}`
            : "Practice"
        }
        under="Pack an order without packing it: no stock moves, no label is bought, nobody else sees it"
      >
        <Button kind="next" hotkey="N" disabled={!next || begin.isPending} onClick={start}>
          {next ? `Practise with ${next.number}` : "No planned order"}
        </Button>
      </ScreenHead>
      <div className="bg-sheet px-6 py-5 text-lead">
        <ScanField
          label="Or scan a slip, or type the number of a planned or packed order"
          onCode={scan}
          keys={next ? { n: start } : {}}
        />
        <p className="mt-3 max-w-3xl text-ink2">
          One or two things on the table are not as planned: a unit is missing, another carton is in
          its place, there is no fill, a pack is cold or soft. Look before you take. What you do not
          see may show on the scale. At the end you read what you saw, what you did not, and your
          minutes against the workshop’s.
        </p>
        <ProblemNote error={list.error} />
        {list.isPending ? <Waiting what="your practice" /> : null}
        {list.data?.count === 0 ? <Empty title="You have not practised yet" /> : null}
        {list.data && list.data.count > 0 ? (
          <>
            <Table
              className="mt-5 text-lead"
              caption="Your practice"
              rows={list.data.results}
              rowKey={(row) => row.id}
              columns={columns((row) => remove.mutate(row.id), remove.isPending)}
            />
            <Pager page={page} pages={list.data.pages} onPage={(to) => set({ page: String(to) })} />
          </>
        ) : null}
      </div>
    </>
  );
}
