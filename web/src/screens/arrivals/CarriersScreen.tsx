/** What carriers did: days promised against days taken, the share late, what was charged afterwards. */
import { useQuery } from "@tanstack/react-query";
import { carriersReport } from "../../api/arrivals";
import { useFormat } from "../../app/session";
import { fixed, percent } from "../../domain/figures";
import { many } from "../../domain/words";
import { Whisker } from "../../drawings/Whisker";
import { niceTop, ticksTo } from "../../drawings/scale";
import { Empty, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { ArrivalsTabs } from "./Tabs";

export function CarriersScreen() {
  const query = useQuery(carriersReport());
  const format = useFormat();
  if (query.isPending) return <Waiting what="what the carriers did" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const { on_time: rows, charged_more, parcels } = query.data;
  const late = rows.reduce((sum, row) => sum + row.late, 0);
  const top = Math.min(
    1,
    niceTop(Math.max(0.1, ...rows.slice(0, 8).map((row) => Number(row.high)))),
  );
  const ticks = ticksTo(top);
  return (
    <>
      <ArrivalsTabs />
      <ScreenHead
        title={
          parcels === 0 ? "No parcel came yet" : `${late} of ${many(parcels, "parcel")} came late`
        }
        under="Calendar days from the hand-over, by service and zone"
      />
      <div className="border-t border-line bg-sheet px-6 py-4">
        {rows.length === 0 ? (
          <Empty title="Nothing came yet">When carriers say what came, it is counted here.</Empty>
        ) : (
          <table className="rule-table">
            <thead>
              <tr>
                <th>Service</th>
                <th>Zone</th>
                <th className="num">Parcels</th>
                <th className="num">Days promised</th>
                <th className="num">Days taken</th>
                <th className="num">Late</th>
                <th className="w-[260px]">Share late, to {percent(top)}</th>
                <th className="num">Worst</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={`${row.service} ${row.zone}`}>
                  <td>{row.service}</td>
                  <td>{row.zone}</td>
                  <td className="num">{row.count}</td>
                  <td className="num">{fixed(Number(row.promised_days), 1)}</td>
                  <td className="num">{fixed(Number(row.real_days), 1)}</td>
                  <td className="num">{row.late}</td>
                  <td>
                    <Whisker
                      share={row.late / row.count}
                      low={Number(row.low)}
                      high={Number(row.high)}
                      top={top}
                      width={240}
                      ticks={ticks}
                      label={`${row.late} of ${row.count} late`}
                    />
                  </td>
                  <td className="num">
                    {row.worst_late_days === 0 ? "–" : `${many(row.worst_late_days, "day")} late`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <h2 className="mt-6 text-lead">
          {charged_more.length === 0 ? "Nothing was charged afterwards" : "Charged afterwards"}
        </h2>
        <ul>
          {charged_more.map((row) => (
            <li key={row.carrier} className="border-t border-line py-2">
              <b>{row.carrier}</b>: {row.count} of {row.of} measured again,{" "}
              {format.money(row.charged)} in all
              {row.median_more_mg > 0
                ? `; half of them ${format.weight(row.median_more_mg)} or more over our scale`
                : ""}
            </li>
          ))}
        </ul>
      </div>
    </>
  );
}
