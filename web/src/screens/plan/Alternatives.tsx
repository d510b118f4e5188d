/** Other ways to send it, with their differences; and what was ruled out, by which limit. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { keyOf, wayName } from "../../domain/words";

interface Props { ways: Schemas["Way"][]; ruledOut: Schemas["RuledOutView"][]; shown: number; onShow: (n: number) => void; onUse: ((container: string) => void) | undefined }

export function Alternatives({ ways, ruledOut, shown, onShow, onUse }: Props) {
  const format = useFormat();
  const [open, setOpen] = useState(false);
  return (
    <section className="px-6 pb-8 pt-3">
      <div className="flex items-baseline justify-between">
        <h2 className="text-[15px] text-ink2">{ways.length > 1 ? "Other ways to send it" : "The only way to send it from this cupboard"}</h2>
        <button type="button" aria-expanded={open} className="text-action underline" onClick={() => setOpen(!open)}>{open ? "Hide" : "Why not"} the other {ruledOut.length} {ruledOut.length === 1 ? "container" : "containers"}</button>
      </div>
      <table className="rule-table">
        <thead><tr><th scope="col">Container</th><th scope="col" className="num">Outside</th><th scope="col" className="num">Gross</th><th scope="col" className="num">Materials</th><th scope="col" className="num">Minutes</th><th scope="col" className="num">Postage</th><th scope="col" className="num">Loss</th><th scope="col" className="num">Total</th><th scope="col" className="pl-5!">Against the chosen one</th></tr></thead>
        <tbody>
          {ways.map((way, index) => {
            const c = way.candidate;
            return (
              <tr key={keyOf(c)} className={`${index === shown ? "bg-soft" : ""} ${way.chosen ? "font-semibold" : ""}`}>
                <td><button type="button" aria-pressed={index === shown} className="text-action hover:underline" onClick={() => onShow(index)}>{wayName(c, format.length)}</button></td>
                <td className="num">{format.size(c.outer_bulged)}</td><td className="num">{format.weight(c.weight.gross_mg)}</td><td className="num">{format.money(c.costs.materials)}</td><td className="num">{Number(c.minutes)}</td><td className="num">{format.money(c.costs.postage)}</td><td className="num">{format.money(c.costs.expected_loss)}</td><td className="num">{format.money(c.costs.total)}</td>
                <td className="pl-5!">
                  {way.chosen ? "chosen" : <span>{format.signed(way.difference)}{c.in_recipe ? "" : ", not in the recipe"}</span>}
                  {!way.chosen && index === shown && onUse ? <button type="button" className="ml-3 text-action underline" onClick={() => onUse(keyOf(c))}>use it <span className="keycap">U</span></button> : null}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {open ? <ul className="mt-3 columns-2 gap-8 max-lg:columns-1">{ruledOut.map((one) => <li key={one.container} className="mb-1.5 break-inside-avoid">{one.reason} <span className="text-small text-ink2">{one.proven ? "" : "(not proven)"}</span></li>)}</ul> : null}
    </section>
  );
}
