/** The same order size packed two or three ways: which wins, and where the balance tips. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { Section } from "../../drawings/Section";
import { Table, type Column } from "../../ui/list/Table";
import { Sheet } from "../../ui/Sheet";
import { Button, Mark, ProblemNote, Waiting } from "../../ui/parts";
import { TryOnOrders } from "../../ui/TryOnOrders";
import { bandName, type Band, type RecipeDoc } from "./rows";

interface Props {
  open: boolean;
  onClose: () => void;
  id: number;
  doc: RecipeDoc;
  column: number;
  locked: boolean;
  onBand: (at: number, band: Band) => void;
}

export function WaysSheet({ open, onClose, id, doc, column, locked, onBand }: Props) {
  const band = doc.bands[column];
  const first = band?.first ?? 1;
  const [shown, setShown] = useState("");
  const found = useQuery({
    queryKey: ["ways", id, first, doc],
    queryFn: () =>
      answer(
        api.POST("/api/recipes/{recipe_id}/ways", {
          params: { path: { recipe_id: id } },
          body: { band_first: first, document: doc },
        }),
      ),
    enabled: open,
    retry: false,
    staleTime: 30_000,
  });
  const data = found.data;
  const picked =
    data?.ways.find((way) => way.key === shown) ??
    data?.ways.find((way) => way.key === data.winner);
  return (
    <Sheet
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`Other ways to pack ${band ? bandName(band) : ""}`}
      {...(data
        ? { description: `${data.units} ${data.goods}, to the usual place. ${data.words}` }
        : {})}
      wide
    >
      {found.isPending && open ? <Waiting what="the other ways" /> : null}
      <ProblemNote error={found.error} />
      {data ? (
        <>
          <WaysTable ways={data.ways} winner={data.winner} picked={picked} onShow={setShown} />
          <TryOnOrders change={{ kind: "version", id }}>
            Try a version on the orders of the last weeks
          </TryOnOrders>
          <ul className="mt-3 text-ink2">
            {data.balances.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
          {picked && <WayDrawing way={picked} />}
          {!locked && picked && data.bands[picked.key] ? (
            <div className="mt-3 flex gap-3">
              <Button
                kind="next"
                onClick={() => {
                  onBand(column, {
                    ...(data.bands[picked.key] as Band),
                    first,
                    last: band?.last ?? first,
                  });
                  onClose();
                }}
              >
                Pack this size {picked.name.toLowerCase()}
              </Button>
              <Button onClick={onClose}>Cancel</Button>
            </div>
          ) : null}
        </>
      ) : null}
    </Sheet>
  );
}

type Way = Schemas["WayOut"];
type Costs = NonNullable<Way["candidate"]>["costs"];

function WaysTable({
  ways,
  winner,
  picked,
  onShow,
}: {
  ways: readonly Way[];
  winner: string;
  picked: Way | undefined;
  onShow: (key: string) => void;
}) {
  const format = useFormat();
  const money = (key: keyof Costs, name: string): Column<Way> => ({
    key,
    name,
    num: true,
    className: key === "total" ? "font-semibold" : "",
    cell: (way) => (way.candidate ? format.money(way.candidate.costs[key]) : ""),
  });
  return (
    <Table
      caption="Ways compared"
      rows={ways}
      rowKey={(way) => way.key}
      picked={(way) => way.key === picked?.key}
      onOver={(index) => onShow(ways[index]?.key ?? "")}
      columns={[
        {
          key: "way",
          name: "Way",
          cell: (way) => (
            <>
              <button
                type="button"
                aria-pressed={way.key === picked?.key}
                onClick={() => onShow(way.key)}
                className="text-left font-semibold text-action"
              >
                {way.name}
              </button>
              {way.key === winner ? (
                <span className="ml-2 text-small">
                  <Mark kind="done" /> costs least
                </span>
              ) : null}
              <span className="block text-small text-ink2">
                {way.problem || [way.candidate?.container, ...way.wraps].filter(Boolean).join(", ")}
              </span>
            </>
          ),
        },
        money("materials", "Materials"),
        {
          key: "minutes",
          name: "Minutes",
          num: true,
          cell: (way) => (way.candidate ? Number(way.candidate.minutes) : ""),
        },
        money("labour", "Labour"),
        money("postage", "Postage"),
        money("expected_loss", "Expected damage cost"),
        money("total", "Total cost"),
      ]}
    />
  );
}

/** The way's own section is the parcel as the editor draws it, where it can be packed. */
function WayDrawing({ way }: { way: Way }) {
  const format = useFormat();
  if (!way.candidate) return null;
  return (
    <div className="mt-3 max-w-md">
      <Section
        parcel={way.candidate}
        layers={way.layers}
        caption={`${way.candidate.name}, outside ${format.size(way.candidate.outer_bulged)}, ${format.weight(way.candidate.weight.gross_mg)}`}
      />
    </div>
  );
}
