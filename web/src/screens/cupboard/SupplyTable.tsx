/** The cupboard as a plain table: the same numbers, searched and sorted. */
import { useFormat } from "../../app/session";
import { ListBar, Pages } from "../../ui/list/ListBar";
import { Table, type Column } from "../../ui/list/Table";
import { useList } from "../../ui/list/useList";
import { Mark } from "../../ui/parts";
import { isShort, placeOf, type Supply } from "./supply";

const RULES = {
  text: (row: Supply) => `${row.code} ${row.name} ${placeOf(row)} ${row.kind}`,
  filters: [
    { key: "short", name: "To reorder", holds: isShort },
    { key: "reserved", name: "Reserved", holds: (row: Supply) => Number(row.reserved) > 0 },
  ],
  by: {
    place: placeOf,
    name: (row: Supply) => row.name,
    on_hand: (row: Supply) => Number(row.on_hand),
    reserved: (row: Supply) => Number(row.reserved),
    free: (row: Supply) => Number(row.free),
    cost: (row: Supply) => Number(row.average_cost),
  },
};

export function SupplyTable({
  rows,
  picked,
  onPick,
}: {
  rows: Supply[];
  picked: Supply | undefined;
  onPick: (supply: Supply) => void;
}) {
  const list = useList(rows, RULES);
  const format = useFormat();
  const figure = (key: "on_hand" | "reserved" | "free", name: string): Column<Supply> => ({
    key,
    name,
    num: true,
    sorts: true,
    cell: (row) => format.quantity(row[key], row.unit),
  });
  return (
    <div className="bg-sheet">
      <ListBar {...list.bar} searchLabel="Search supplies" />
      <Table
        caption="Supplies"
        opens
        {...list.table}
        rowKey={(row) => row.id}
        picked={(row) => row.id === picked?.id}
        columns={[
          { key: "place", name: "Place", sorts: true, className: "pl-6!", cell: placeOf },
          {
            key: "name",
            name: "Supply",
            sorts: true,
            cell: (row) => (
              <>
                <button
                  type="button"
                  className="text-left text-action hover:underline"
                  onClick={() => onPick(row)}
                >
                  {row.name}
                </button>{" "}
                {isShort(row) ? <Mark kind="stop" /> : null}
              </>
            ),
          },
          figure("on_hand", "On hand"),
          figure("reserved", "Reserved"),
          figure("free", "Free"),
          {
            key: "cost",
            name: "Cost each",
            num: true,
            sorts: true,
            className: "pr-6!",
            cell: (row) => format.unitCost(row.average_cost, row.unit),
          },
        ]}
      />
      <Pages page={list.page} pages={list.pages} onTurn={list.turnTo} />
    </div>
  );
}
