/** Other ways to send it, with their differences; and what was ruled out, by which limit. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { wayName } from "../../domain/words";
import { OPENS } from "../../ui/rows";

interface Props {
  ways: Schemas["WayView"][];
  ruledOut: Schemas["RuledOutView"][];
  shown: number;
  onShow: (n: number) => void;
  onUse: ((container: string) => void) | undefined;
}

export function Alternatives({ ways, ruledOut, shown, onShow, onUse }: Props) {
  const format = useFormat();
  const [open, setOpen] = useState(false);
  const others = new Set(ruledOut.map((one) => one.container)).size; // of several parcels each may rule the same one out
  return (
    <section className="px-6 pb-8 pt-3">
      <div className="flex items-baseline justify-between">
        <h2 className="text-[15px] text-ink2">
          {ways.length > 1
            ? "Other ways to send it"
            : "The only way to send it with these supplies"}
        </h2>
        {ruledOut.length > 0 ? (
          <button
            type="button"
            aria-expanded={open}
            className="text-action underline"
            onClick={() => setOpen(!open)}
          >
            {open ? "Hide" : "Why not"} the other {others}{" "}
            {others === 1 ? "container" : "containers"}
          </button>
        ) : null}
      </div>
      <table className="rule-table">
        <thead>
          <tr>
            <th scope="col">Container</th>
            <th scope="col" className="num">
              Outside
            </th>
            <th scope="col" className="num">
              Gross
            </th>
            <th scope="col" className="num">
              Materials
            </th>
            <th scope="col" className="num">
              Minutes
            </th>
            <th scope="col" className="num">
              Postage
            </th>
            <th scope="col" className="num">
              Loss
            </th>
            <th scope="col" className="num">
              Total
            </th>
            <th scope="col" className="pl-5!">
              Compared with the chosen one
            </th>
          </tr>
        </thead>
        <tbody>
          {ways.map((way, index) => (
            <tr
              key={way.key}
              {...OPENS}
              className={`${index === shown ? "bg-soft" : ""} ${way.chosen ? "font-semibold" : ""}`}
            >
              <td>
                <button
                  type="button"
                  aria-pressed={index === shown}
                  className="text-left text-action hover:underline"
                  onClick={() => onShow(index)}
                >
                  {wayName(way, format.length)}
                </button>{" "}
                {way.parcels.length === 1 && !way.parcels[0]?.candidate.strapped ? (
                  <span className="text-small font-normal text-ink2">
                    {way.parcels[0]?.candidate.name}
                  </span>
                ) : null}
              </td>
              <td className="num">
                {sizes(way).map((size, at) => (
                  <span key={at} className="block">
                    {typeof size === "string" ? size : format.size(size)}
                  </span>
                ))}
              </td>
              <td className="num">
                {format.weight(
                  way.parcels.reduce((sum, one) => sum + one.candidate.weight.gross_mg, 0),
                )}
              </td>
              <td className="num">{format.money(way.costs.materials)}</td>
              <td className="num">{Number(way.minutes)}</td>
              <td className="num">{format.money(way.costs.postage)}</td>
              <td className="num">{format.money(way.costs.expected_loss)}</td>
              <td className="num">{format.money(way.costs.total)}</td>
              <td className="pl-5!">
                {way.chosen ? (
                  "chosen"
                ) : (
                  <span>
                    {format.signed(way.difference)}
                    {way.in_recipe ? "" : ", not in the recipe"}
                  </span>
                )}
                {!way.chosen && index === shown && onUse ? (
                  <button
                    type="button"
                    className="ml-3 text-action underline"
                    onClick={() => onUse(way.key)}
                  >
                    use it <span className="keycap">U</span>
                  </button>
                ) : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {open ? (
        <ul className="mt-3 columns-2 gap-8 max-lg:columns-1">
          {ruledOut.map((one) => (
            <li key={one.reason} className="mb-1.5 break-inside-avoid">
              {one.reason}{" "}
              <span className="text-small text-ink2">{one.proven ? "" : "(not proven)"}</span>
            </li>
          ))}
        </ul>
      ) : null}
    </section>
  );
}

/** Outside of each parcel; of many, the first two. */
function sizes(way: Schemas["WayView"]): (Schemas["Size"] | string)[] {
  const all = way.parcels.map((one) => one.candidate.outer_bulged);
  return all.length <= 3 ? all : [...all.slice(0, 2), `and ${all.length - 2} more`];
}
