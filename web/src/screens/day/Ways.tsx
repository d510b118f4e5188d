/** What cannot make it, why, and what would help with what it costs. */
import { useFormat, useSession } from "../../app/session";
import type { Schemas } from "../../api/client";
import { clockWords, LATE_WORDS } from "../../domain/day";
import { Button, Notice } from "../../ui/parts";

type Day = Schemas["DayOut"];

export function Ways({ day, onMove }: { day: Day; onMove: (key: string) => void }) {
  const late = day.parcels.filter((one) => one.late !== null);
  const format = useFormat();
  const sees = useSession().sees_costs;
  if (late.length === 0 && day.nowhere.length === 0) return null;
  const reasons = [...new Set(late.map((one) => one.late))];
  return (
    <div className="px-6 pb-3">
      {late.length > 0 ? (
        <Notice kind="stop">
          {reasons.map((reason) => (
            <p key={reason}>
              <b>
                {late
                  .filter((one) => one.late === reason)
                  .slice(0, 8)
                  .map((one) => one.number)
                  .join(", ")}
              </b>
              : {reason ? LATE_WORDS[reason] : ""}.
            </p>
          ))}
          <ul className="mt-1 flex flex-wrap items-center gap-x-6 gap-y-1">
            {day.ways.map((way) => (
              <li key={way.kind}>
                {way.kind === "person"
                  ? `One more person from ${clockWords(way.at_s)} to ${clockWords(way.until_s)} brings all in time`
                  : `Beginning at ${clockWords(way.at_s)} instead of ${clockWords(way.until_s)} brings all in time`}
                {sees ? `: ${format.money(way.cost)} of wage` : ""}.
              </li>
            ))}
            <li>
              <Button onClick={() => late[0] && onMove(late[0].key)}>
                {late.length === 1 ? `Move ${late[0]?.number ?? ""}` : "Move one of them"}
              </Button>
            </li>
          </ul>
        </Notice>
      ) : null}
      {day.nowhere.length > 0 ? (
        <Notice kind="mind">
          No hand-over takes {day.nowhere.slice(0, 8).join(", ")} in the next three weeks. Enter one
          under Hours and hand-overs, or plan another service.
        </Notice>
      ) : null}
    </div>
  );
}
