/** The month's money for supplies as a ruler: what is spent, what this list takes, what is left. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";

const MONTH = new Intl.DateTimeFormat("en-GB", { month: "long", timeZone: "UTC" });

export function BudgetRuler({
  data,
  budget,
}: {
  data: Schemas["BuyListOut"];
  budget: NonNullable<Schemas["BuyListOut"]["budget"]>;
}) {
  const format = useFormat();
  const total = Number(budget.total);
  const spent = Number(budget.spent);
  const list = Number(data.total);
  const left = total - spent - list;
  const share = (part: number) =>
    `${total > 0 ? Math.max(0, Math.min(100, (100 * part) / total)) : 0}%`;
  return (
    <section className="mt-6">
      <h2 className="text-lead">
        Of {MONTH.format(new Date(`${budget.month}T12:00:00Z`))}&rsquo;s {format.money(total)},{" "}
        {left >= 0 ? `${format.money(left)} is left` : `${format.money(-left)} too much`}
      </h2>
      <div className="mt-2 flex h-5 border-x-2 border-ink" aria-hidden="true">
        <span className="bg-promised" style={{ width: share(spent) }} />
        <span className="border-r-2 border-ink bg-action" style={{ width: share(list) }} />
        <span className="grow bg-line" />
      </div>
      <p className="mt-1 flex flex-wrap justify-between gap-x-4 text-small">
        <span className="text-ink2">{format.money(spent)} ordered this month</span>
        <b className="text-action">{format.money(list)} this list</b>
        <span>{format.money(Math.max(0, left))} left</span>
      </p>
    </section>
  );
}
