/** Into how many parcels, and what goes where: moving a line, or part of it, to another parcel. */
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/parts";
import { MOST_PARCELS, firstShares, goodsRows, withCount, type Division } from "./division";

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
          <label className="flex items-center gap-2">
            Send it in
            <select
              className="min-h-10 rounded-part border border-line2 bg-ground px-2"
              value={division.parcels ?? ""}
              onChange={(event) =>
                onChange({
                  parcels: event.target.value ? Number(event.target.value) : null,
                  shares: null,
                })
              }
            >
              <option value="">automatic</option>
              {Array.from({ length: most }, (_, index) => (
                <option key={index} value={index + 1}>
                  {index === 0 ? "one parcel" : `${index + 1} parcels`}
                </option>
              ))}
            </select>
          </label>
          <Button onClick={() => onChange({ parcels: null, shares: firstShares(data) })}>
            Choose what goes where
          </Button>
        </div>
      ) : (
        <>
          <div className="overflow-x-auto">
            <table className="rule-table">
              <thead>
                <tr>
                  <th scope="col">Goods</th>
                  {shares.map((_, index) => (
                    <th key={index} scope="col" className="num">
                      Parcel {index + 1}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map((row, line) => (
                  <tr key={row.sku}>
                    <td>
                      {row.quantity} {row.title || row.sku}
                    </td>
                    {shares.map((own, parcel) => (
                      <td key={parcel} className="num">
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
                              shares: withCount(
                                data,
                                shares,
                                parcel,
                                line,
                                Number(event.target.value),
                              ),
                            })
                          }
                        />
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
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

const lastIntoFirst = (shares: readonly number[][]): number[][] => {
  const last = shares.at(-1) ?? [];
  return shares
    .slice(0, -1)
    .map((own, index) => (index === 0 ? own.map((count, line) => count + (last[line] ?? 0)) : own));
};
