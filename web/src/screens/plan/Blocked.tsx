/** An order that cannot be planned: what is missing, in words, and where to fix it. */
import { lazy, Suspense } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button, Mark } from "../../ui/parts";

/** Fetched where no service takes it: it may go on another day. */
const GoodDays = lazy(() => import("./GoodDays"));

const FIX: Record<string, { to: string; words: string }> = {
  no_recipe: { to: "/recipes", words: "See the recipes" },
  no_band: { to: "/recipes", words: "See the recipes" },
  unknown_supply: { to: "/cupboard", words: "See the cupboard" },
  no_stock: { to: "/cupboard", words: "See the cupboard" },
  no_container: { to: "/cupboard", words: "See the cupboard" },
};

export function Blocked({
  orderId,
  plan,
  decided,
  onUse,
}: {
  orderId: number;
  plan: Schemas["BlockedView"];
  decided: Schemas["OverridesOut"];
  onUse: (container: string) => void;
}) {
  const usable = plan.ruled_out.filter((one) => one.code === "not_in_recipe");
  return (
    <section className="border-t border-line bg-sheet px-6 py-6">
      <h2 className="text-[21px]">It cannot be planned yet</h2>
      <ul className="mt-3 max-w-3xl">
        {plan.missing.map((missing) => {
          const fix = FIX[missing.code];
          return (
            <li key={missing.message} className="flex gap-3 border-t border-line py-3">
              <Mark kind="stop" />
              <span className="grow">{missing.message}</span>
              {fix ? (
                <Link className="whitespace-nowrap text-action underline" to={fix.to}>
                  {fix.words}
                </Link>
              ) : null}
            </li>
          );
        })}
      </ul>
      {plan.missing.some((one) => one.code === "no_service") ? (
        <Suspense>
          <GoodDays orderId={orderId} decided={decided} />
        </Suspense>
      ) : null}
      {usable.length > 0 ? (
        <ul className="max-w-3xl">
          {usable.map((one) => (
            <li key={one.container} className="flex items-center gap-3 border-t border-line py-2">
              <span className="grow">{one.reason}</span>
              <Button onClick={() => onUse(one.container)}>Use {one.container} this once</Button>
            </li>
          ))}
        </ul>
      ) : null}
      {plan.ruled_out.length > usable.length ? (
        <>
          <h3 className="mt-5 text-[15px] text-ink2">What was tried</h3>
          <ul className="mt-1 columns-2 gap-8 max-lg:columns-1">
            {plan.ruled_out
              .filter((one) => !usable.includes(one))
              .map((one) => (
                <li key={one.container} className="mb-1.5 break-inside-avoid">
                  {one.reason}
                </li>
              ))}
          </ul>
        </>
      ) : null}
    </section>
  );
}
