/** What small change pays: one sentence, one key; more of them below; taken back the same way. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { orderPlan, planAdvice, rail } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { useToast } from "../../ui/overlays";
import { Button, Mark, Notice } from "../../ui/parts";
import { before, cleared, decidedWords, type Decisions } from "./advised";
import { many } from "../../domain/words";

interface Props {
  order: Schemas["OrderOut"];
  plan: Schemas["PlanView"];
  decided: Decisions;
  editable: boolean;
}

/** Set everything decided for this order at once. */
export function useDecide(orderId: number) {
  const client = useQueryClient();
  const say = useToast();
  return useMutation({
    mutationFn: (wanted: Decisions) =>
      answer(
        api.POST("/api/orders/{order_id}/plan/decisions", {
          params: { path: { order_id: orderId } },
          body: {
            ...wanted,
            forbidden: [...wanted.forbidden],
            may_lie_down: [...wanted.may_lie_down],
            omitted: [...wanted.omitted],
            substitutes: wanted.substitutes.map(
              ([code, other]) => [code, other] as [string, string],
            ),
          },
        }),
      ),
    onSuccess: (now) => {
      client.setQueryData(orderPlan(orderId).queryKey, now);
      void client.invalidateQueries({ queryKey: ["orders"] });
      void client.invalidateQueries({ queryKey: rail().queryKey });
      void client.invalidateQueries({ queryKey: planAdvice(orderId).queryKey });
    },
    onError: (error) => say(error.message, "stop"),
  });
}

export function Advice({ order, plan, decided, editable }: Props) {
  const format = useFormat();
  const found = useQuery({ ...planAdvice(order.id), enabled: editable });
  const decide = useDecide(order.id);
  const [all, setAll] = useState(false);
  const every = found.data?.advice ?? [];
  // What comes again on order after order is the recipe's matter: it is told there, once.
  const rows = every.filter((one) => one.at_recipe === null);
  const recurring = every.flatMap((one) => (one.at_recipe ? [one.at_recipe] : []));
  const [best, ...more] = rows;
  const take = (one: Schemas["AdviceOut"]) => {
    before.put(order.id, decided);
    decide.mutate(one.decisions as Decisions);
  };
  const back = () => {
    decide.mutate(before.get(order.id) ?? cleared(decided));
    before.clear(order.id);
  };
  const names = new Map(plan.supplies.map((ref) => [ref.code, ref.name]));
  const services = new Map(
    plan.ways.flatMap((way) =>
      way.parcels.flatMap((parcel) =>
        parcel.candidate.quotes.map((quote) => [quote.service, quote.service_name] as const),
      ),
    ),
  );
  const words = decidedWords(decided, names, services);
  const set = decided.container !== null || words !== "";
  useActions([
    {
      key: "a",
      label: best ? `Apply the advice: ${best.sentence}` : "Apply the advice",
      run: () => best && take(best),
      off: !editable || !best || decide.isPending,
    },
    {
      key: "z",
      label: "Undo the last override",
      run: back,
      off: !editable || !set || decide.isPending,
    },
    {
      key: "e",
      label: all ? "Only the best advice" : "All advice",
      run: () => setAll(!all),
      off: more.length === 0,
    },
  ]);
  return (
    <>
      {best ? (
        <Notice
          kind="mind"
          action={
            <span className="flex items-center gap-3">
              {more.length > 0 ? (
                <button
                  type="button"
                  aria-expanded={all}
                  className="whitespace-nowrap text-action underline"
                  onClick={() => setAll(!all)}
                >
                  {all ? "Show less" : `${more.length} more`}{" "}
                  <span className="keycap no-underline">E</span>
                </button>
              ) : null}
              <Button
                hotkey="A"
                disabled={!editable || decide.isPending}
                onClick={() => take(best)}
              >
                Apply
              </Button>
            </span>
          }
        >
          <b>{best.sentence}</b> <span className="text-ink2">{parts(best, format.signed)}</span>
        </Notice>
      ) : null}
      {all ? (
        <ul className="border-b border-line bg-sheet">
          {more.map((one) => (
            <li
              key={one.sentence}
              className="flex items-center gap-3 border-t border-line px-4 py-1.5"
            >
              <Mark kind="mind" />
              <span className="grow">
                {one.sentence} <span className="text-ink2">{parts(one, format.signed)}</span>
              </span>
              <Button disabled={!editable || decide.isPending} onClick={() => take(one)}>
                Apply
              </Button>
            </li>
          ))}
        </ul>
      ) : null}
      {recurring.slice(0, 1).map((one) => (
        <p
          key={one.words}
          className="border-b border-line bg-sheet px-4 py-1.5 text-small text-ink2"
        >
          Recurring advice on {many(one.orders, "order")}, {format.money(one.saves)} in total:{" "}
          <Link className="text-action underline" to={`/recipes/${one.recipe_id}`}>
            see recipe {one.recipe}
          </Link>
        </p>
      ))}
      {set ? (
        <Notice
          kind="mind"
          action={
            <Button hotkey="Z" disabled={!editable || decide.isPending} onClick={back}>
              Undo changes
            </Button>
          }
        >
          <b>Overridden.</b>{" "}
          {decided.container
            ? `Chosen: ${plan.ways[0] ? plan.ways[0].parcels.map((one) => one.candidate.name).join(" and ") : ""}.`
            : ""}{" "}
          {words}
        </Notice>
      ) : null}
    </>
  );
}

/** What the saving is made of. */
function parts(one: Schemas["AdviceOut"], signed: (amount: string | number) => string): string {
  const found: [string, string | number][] = [
    ["postage", one.postage],
    ["materials", one.materials],
    ["expected damage cost", one.expected_loss],
  ];
  return found
    .filter(([, amount]) => Number(amount) !== 0)
    .map(([name, amount]) => `${name} ${signed(amount)}`)
    .join(", ");
}
