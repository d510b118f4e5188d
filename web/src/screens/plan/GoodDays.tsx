/** The next days an order can be sent on, where today's way would be too long for its goods; taken with one key. */
import { useQuery } from "@tanstack/react-query";
import { orderCare } from "../../api/care";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { dayWords } from "../../domain/words";
import { Button } from "../../ui/parts";
import { useDecide } from "./Advice";
import { before, type Decisions } from "./advised";

export default function GoodDays({
  orderId,
  decided,
}: {
  orderId: number;
  decided: Schemas["OverridesOut"];
}) {
  const format = useFormat();
  const { sees_costs } = useSession();
  const found = useQuery(orderCare(orderId));
  const decide = useDecide(orderId);
  const days = found.data?.good_days ?? [];
  const first = days[0];
  const take = (one: Schemas["GoodDayOut"]) => {
    before.put(orderId, decided);
    decide.mutate(one.decisions as Decisions);
  };
  useActions([
    {
      key: "t",
      label: first ? `Send it on ${dayWords(first.ship_on)}` : "Send it on the next good day",
      run: () => first && take(first),
      off: !first || decide.isPending,
    },
  ]);
  if (days.length === 0) return null;
  return (
    <>
      <h3 className="mt-5 text-lead">Days it can be sent on</h3>
      <ul className="max-w-3xl">
        {days.map((one) => (
          <li key={one.ship_on} className="flex items-center gap-3 border-t border-line py-2">
            <span className="grow">
              <b>{dayWords(one.ship_on)}</b>, there on {dayWords(one.arrives_on)} by{" "}
              {one.service_name}
              {sees_costs ? `, ${format.money(one.total)} in all` : ""}
            </span>
            <Button
              hotkey={one === first ? "T" : undefined}
              disabled={decide.isPending}
              onClick={() => take(one)}
            >
              Take
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
