/** Into how many parcels, and what goes where: moving a line, or part of it, to another parcel. */
import type { Schemas } from "../../api/client";
import { Table, type Column } from "../../ui/list/Table";
import { Pick } from "../../ui/Pick";
import { Button } from "../../ui/parts";
import { MOST_PARCELS, firstShares, goodsRows, withCount, type Division } from "./division";

const AUTOMATIC = "automatic";

interface Props {
  data: Schemas["OrderPlanOut"];
  division: Division;
  onChange: (division: Division) => void;
  wrong: string;
}

export function Parcels({ data, division, onChange, wrong }: Props) {
  const rows = goodsRows(data);
  const units = rows.reduce((sum, row) => sum + row.quantity, 0);
  const most = Math.min(MOST_PARCELS, units);
  const { shares } = division;
  if (most < 2) return null;
  return (
    <fieldset>
      <legend className="text-ink2">Parcels</legend>
      {shares === null ? (
        <div className="flex flex-wrap items-center gap-3">
          <span className="text-ink2">Send it in</span>
          <Pick
            label="Send it in"
            className="min-h-10"
            value={String(division.parcels ?? AUTOMATIC)}
            options={[
              { value: AUTOMATIC, text: "automatic" },
              ...Array.from({ length: most }, (_, index) => ({
                value: String(index + 1),
                text: index === 0 ? "one parcel" : `${index + 1} parcels`,
              })),
            ]}
            onPick={(value) =>
              onChange({ parcels: value === AUTOMATIC ? null : Number(value), shares: null })
            }
          />
          <Button onClick={() => onChange({ parcels: null, shares: firstShares(data) })}>
            Choose what goes where
          </Button>
        </div>
      ) : (
        <>
          <SharesTable data={data} shares={shares} onChange={onChange} />
          {wrong ? <p className="mt-1 text-stop">{wrong}</p> : null}
          <div className="mt-2 flex flex-wrap gap-3">
            {shares.length < most ? (
              <Button
                onClick={() => onChange({ parcels: null, shares: [...shares, rows.map(() => 0)] })}
              >
                More parcels
              </Button>
            ) : null}
            {shares.length > 2 ? (
              <Button onClick={() => onChange({ parcels: null, shares: lastIntoFirst(shares) })}>
                Fewer parcels
              </Button>
            ) : null}
            <Button onClick={() => onChange({ parcels: null, shares: null })}>Automatic</Button>
          </div>
        </>
      )}
    </fieldset>
  );
}

function SharesTable({
  data,
  shares,
  onChange,
}: {
  data: Props["data"];
  shares: readonly number[][];
  onChange: Props["onChange"];
}) {
  return (
    <div className="overflow-x-auto">
      <Table
        caption="What goes into which parcel"
        rows={goodsRows(data)}
        rowKey={(row) => row.sku}
        columns={[
          {
            key: "goods",
            name: "Goods",
            cell: (row) => `${row.quantity} ${row.title || row.sku}`,
          },
          ...shares.map((own, parcel): Column<Goods> => ({
            key: String(parcel),
            name: `Parcel ${parcel + 1}`,
            num: true,
            cell: (row, line) => (
              <input
                type="number"
                min={0}
                max={row.quantity}
                aria-label={`${row.title || row.sku} in parcel ${parcel + 1}`}
                className="min-h-9 w-16 rounded-part border border-line2 bg-ground px-2 text-right"
                value={own[line] ?? 0}
                onChange={(event) =>
                  onChange({
                    parcels: null,
                    shares: withCount(data, shares, parcel, line, Number(event.target.value)),
                  })
                }
              />
            ),
          })),
        ]}
      />
    </div>
  );
}

type Goods = ReturnType<typeof goodsRows>[number];

const lastIntoFirst = (shares: readonly number[][]): number[][] => {
  const last = shares.at(-1) ?? [];
  return shares
    .slice(0, -1)
    .map((own, index) => (index === 0 ? own.map((count, line) => count + (last[line] ?? 0)) : own));
};
