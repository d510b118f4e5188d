/** Under each column, live: what one parcel of the band comes to. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { lengthNumber, lengthUnit } from "../../domain/units";
import { Mark } from "../../ui/parts";

export function Figures({
  figures,
  column,
}: {
  figures: readonly Schemas["BandFigures"][];
  column: number;
}) {
  const format = useFormat();
  const rows: { label: string; show: (f: Schemas["BandFigures"]) => string }[] = [
    {
      label: `Outside with bulge, ${lengthUnit(format.system)}`,
      show: (f) =>
        f.outer
          ? [f.outer.length_um, f.outer.width_um, f.outer.height_um]
              .map((um) => lengthNumber(um, format.system))
              .join(" x ")
          : "",
    },
    {
      label: "Gross weight",
      show: (f) => (f.gross_mg === null ? "" : `${format.weight(f.gross_mg)} for ${f.units}`),
    },
    {
      label: "Materials, minutes",
      show: (f) =>
        f.materials === null ? "" : `${format.money(f.materials)}, ${Number(f.minutes)}`,
    },
    {
      label: "Postage, nearest to farthest",
      show: (f) =>
        f.postage_nearest === null || f.postage_farthest === null
          ? ""
          : `${format.money(f.postage_nearest)} to ${format.money(f.postage_farthest)}`,
    },
    {
      label: "Free space before filling",
      show: (f) => (f.free_l === null ? "" : format.volume(f.free_l)),
    },
  ];
  return (
    <tfoot className="sticky bottom-0 z-10 bg-sheet shadow-[0_-2px_0_var(--ink)]">
      <tr className="border-t-2 border-ink">
        <td colSpan={figures.length + 1} className="h-1 p-0" />
      </tr>
      {rows.map((row) => (
        <tr key={row.label}>
          <th scope="row" className="py-[2px] text-left font-normal text-ink2">
            {row.label}
          </th>
          {figures.map((f, at) => (
            <td
              key={f.first}
              className={`whitespace-nowrap px-3 py-[2px] text-right text-small ${at === column ? "bg-soft font-semibold" : "text-ink2"}`}
            >
              {f.problem ? "" : row.show(f)}
            </td>
          ))}
        </tr>
      ))}
      <tr>
        <th scope="row" className="py-1 text-left font-head text-lead font-semibold">
          Total cost each
        </th>
        {figures.map((f, at) => (
          <td
            key={f.first}
            className={`px-3 py-1 text-right font-head text-[19px] font-semibold ${at === column ? "bg-soft text-action" : ""}`}
          >
            {f.problem ? (
              <span className="font-text text-small font-semibold text-stop">
                <Mark kind="stop" /> not yet
              </span>
            ) : f.each_all_in ? (
              format.money(f.each_all_in)
            ) : (
              ""
            )}
          </td>
        ))}
      </tr>
    </tfoot>
  );
}
