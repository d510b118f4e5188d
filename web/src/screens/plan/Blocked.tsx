/** An order that cannot be planned: what is missing, in words, and where to mend it. */
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Mark } from "../../ui/parts";

const MEND: Record<string, { to: string; words: string }> = {
  no_recipe: { to: "/recipes", words: "See the recipes" },
  no_band: { to: "/recipes", words: "See the recipes" },
  unknown_supply: { to: "/cupboard", words: "See the cupboard" },
  no_stock: { to: "/cupboard", words: "See the cupboard" },
  no_container: { to: "/cupboard", words: "See the cupboard" },
};

export function Blocked({ plan }: { plan: Schemas["BlockedView"] }) {
  return (
    <section className="border-t border-line bg-sheet px-6 py-6">
      <h2 className="text-[21px]">It cannot be planned yet</h2>
      <ul className="mt-3 max-w-3xl">
        {plan.missing.map((missing) => {
          const mend = MEND[missing.code];
          return <li key={missing.message} className="flex gap-3 border-t border-line py-3"><Mark kind="stop" /><span className="grow">{missing.message}</span>{mend ? <Link className="whitespace-nowrap text-action underline" to={mend.to}>{mend.words}</Link> : null}</li>;
        })}
      </ul>
      {plan.ruled_out.length > 0 ? (
        <>
          <h3 className="mt-5 text-[15px] text-ink2">What was tried</h3>
          <ul className="mt-1 columns-2 gap-8 max-lg:columns-1">{plan.ruled_out.map((one) => <li key={one.container} className="mb-1.5 break-inside-avoid">{one.reason}</li>)}</ul>
        </>
      ) : null}
    </section>
  );
}
