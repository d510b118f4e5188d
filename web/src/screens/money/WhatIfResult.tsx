/** What came out of a change: the orders most changed, those that could not be sent, sums, where it tips. */
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { fixed, signed } from "../../domain/figures";
import { many } from "../../domain/words";
import { Slopes } from "../../drawings/Slopes";
import { Mark } from "../../ui/parts";
import { CHANGED_WORDS } from "./words";

type Result = NonNullable<Schemas["WhatIfOut"]["result"]>;

export function Changed({ result }: { result: Result }) {
  const format = useFormat();
  const navigate = useNavigate();
  const rows = result.most_changed;
  const [least, most] = [result.spread[0], result.spread.at(-1)];
  if (rows.length === 0)
    return (
      <p className="py-6 text-lead">No order would have been packed, sent or charged otherwise.</p>
    );
  return (
    <section>
      <h2 className="text-lead">
        {rows.length < result.spread.length
          ? `The ten most changed of ${result.spread.length}`
          : `${many(rows.length, "order")} changed`}
        , all in
      </h2>
      <p className="text-small text-ink2">
        {result.changed === 0
          ? "None is packed or sent otherwise; only the sum changes."
          : `${many(result.changed, "order")} packed or sent otherwise.`}
        {least !== undefined && most !== undefined && result.spread.length > rows.length
          ? ` The changes go from ${format.signed(least)} to ${format.signed(most)}.`
          : ""}
      </p>
      <div className="mt-2 grid grid-cols-[40%_15%_45%] text-small text-ink2">
        <span className="text-right">Before</span>
        <span />
        <span>After</span>
      </div>
      <Slopes
        rows={rows.map((row) => ({
          id: row.order_id,
          number: row.number,
          goods: `${row.buyer}, ${row.goods}`,
          before: Number(row.before),
          after: Number(row.after),
          change: Number(row.change),
          why: `${newOf(row)}${CHANGED_WORDS[row.most] ?? row.most} ${signed(Number(row.most_change), 2)}`,
        }))}
        money={format.money}
        signed={format.signed}
        onPick={(id) => void navigate(`/plan/${id}`)}
      />
    </section>
  );
}

/** What is another: the containers, the service, both or neither. */
function newOf(row: Result["most_changed"][number]): string {
  const [was, then] = [row.was.split(", "), row.then.split(", ")];
  const parts = then.filter((part, at) => part !== was[at]);
  return parts.length === 0 ? "" : `${parts.join(", ")}: `;
}

export function Unsent({ result }: { result: Result }) {
  const format = useFormat();
  const groups = [
    ["Could not be sent", result.refused_count, result.refused],
    ["Could be sent only then", result.gained_count, result.gained],
  ] as const;
  return (
    <>
      {groups.map(([title, count, rows]) =>
        count === 0 ? null : (
          <section key={title} className="mt-5 border-t border-line pt-3">
            <h2 className="text-lead">
              {title}, {count}
            </h2>
            <ul>
              {rows.slice(0, 12).map((row) => (
                <li key={row.order_id} className="border-t border-line py-2">
                  <Mark kind="stop" /> <b>{row.number}</b> {row.buyer}, {row.goods},{" "}
                  {format.money(row.cost)}
                  <span className="block text-small text-ink2">
                    {row.reasons.join(" ") || "The policy has no charge for it."}
                  </span>
                </li>
              ))}
            </ul>
            {count > 12 ? <p className="text-small text-ink2">and {count - 12} more</p> : null}
          </section>
        ),
      )}
    </>
  );
}

export function Sums({ result }: { result: Result }) {
  const format = useFormat();
  const { before, after } = result;
  const charged = Number(before.charged) !== Number(after.charged);
  const rows = [
    ["Materials", before.materials, after.materials],
    ["Minutes", before.labour, after.labour],
    ["Postage", before.postage, after.postage],
    ["Expected loss", before.expected_loss, after.expected_loss],
  ] as const;
  const days = [before.days, after.days].map((one) => one / Math.max(1, result.both));
  return (
    <section>
      <h2 className="text-lead">{many(result.both, "order")} sent both ways, in all</h2>
      <table className="rule-table">
        <thead>
          <tr>
            <th>
              <span className="sr-only">Line</span>
            </th>
            <th className="num">Before</th>
            <th className="num">After</th>
            <th className="num">Change</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, was, then]) => (
            <Row key={name} name={name} was={was} then={then} />
          ))}
          <Row name="All in" was={before.total} then={after.total} strong />
          {charged ? (
            <Row name="Charged to buyers" was={before.charged} then={after.charged} />
          ) : null}
          {result.by_day ? (
            <tr>
              <td>Days until it arrives</td>
              {days.map((one, at) => (
                <td key={at} className="num">
                  {fixed(one, 1)}
                </td>
              ))}
              <td className="num font-semibold">{signed((days[1] ?? 0) - (days[0] ?? 0), 1)}</td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {result.refused_count > 0 ? (
        <p className="mt-1 text-small text-ink2">
          Not in these sums: the {result.refused_count} not sent
          {result.refused_count <= result.refused.length
            ? `, which cost ${format.money(result.refused.reduce((sum, row) => sum + Number(row.cost), 0))} before`
            : ""}
        </p>
      ) : null}
    </section>
  );
}

function Row({
  name,
  was,
  then,
  strong = false,
}: {
  name: string;
  was: string;
  then: string;
  strong?: boolean;
}) {
  const format = useFormat();
  return (
    <tr className={strong ? "border-t-2 border-ink font-semibold" : ""}>
      <td>{name}</td>
      <td className="num">{format.money(was)}</td>
      <td className="num">{format.money(then)}</td>
      <td className="num font-semibold">{format.signed(Number(then) - Number(was))}</td>
    </tr>
  );
}

export function WhereItTips({ tip }: { tip: NonNullable<Schemas["WhatIfOut"]["tip"]> }) {
  const [title, why] = tip;
  return (
    <section className="mt-6">
      <h2 className="text-lead">{title}</h2>
      <p className="text-ink2">{why}</p>
    </section>
  );
}
