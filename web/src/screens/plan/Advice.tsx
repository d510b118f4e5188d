/** What small change pays: one sentence, one key; more of them below; taken back the same way. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { decide, planAdvice } from "../../api/orders";
import { type Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { useToast } from "../../ui/useToast";
import { Button, Mark, Notice } from "../../ui/parts";
import { before, cleared, decidedWords, type Decisions } from "./advised";
import { countedNames, many } from "../../domain/words";

/** Advice comes later than the plan: its room is kept, so that nothing moves away under a finger that is on its way. */
const ROOM = "min-h-17";

interface Props {
  order: Schemas["OrderOut"];
  plan: Schemas["PlanView"];
  decided: Decisions;
  editable: boolean;
}

/** Set everything decided for this order at once. */
export function useDecide(orderId: number) {
  const say = useToast();
  return useMutation({
    ...decide(orderId),
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
        <div className={`grid ${ROOM}`}>
          <BestAdvice
            best={best}
            more={more.length}
            open={all}
            off={!editable || decide.isPending}
            onMore={() => setAll(!all)}
            onTake={() => take(best)}
          />
        </div>
      ) : editable && recurring.length === 0 ? (
        <p className={`flex items-center pr-4 pl-5 text-small text-ink2 ${ROOM}`}>
          {found.isPending ? "Looking for a small change that pays…" : null}
          {found.isSuccess ? "No small change would pay." : null}
          {found.isError ? `No advice: ${found.error.message}` : null}
        </p>
      ) : null}
      {all ? <MoreAdvice rows={more} off={!editable || decide.isPending} onTake={take} /> : null}
      {recurring.slice(0, 1).map((one) => (
        <p
          key={one.words}
          className={`border-b border-line bg-sheet px-4 py-1.5 text-small text-ink2 ${best ? "" : ROOM}`}
        >
          Recurring advice on {many(one.orders, "order")}, {format.money(one.saves)} in total:{" "}
          <Link className="text-action underline" to={`/recipes/${one.recipe_id}`}>
            see recipe {one.recipe}
          </Link>
        </p>
      ))}
      {set ? (
        <Taken
          container={decided.container ? (plan.ways[0] ?? null) : null}
          words={words}
          off={!editable || decide.isPending}
          onBack={back}
        />
      ) : null}
    </>
  );
}

type AdviceRow = Schemas["AdviceOut"];

function BestAdvice({
  best,
  more,
  open,
  off,
  onMore,
  onTake,
}: {
  best: AdviceRow;
  more: number;
  open: boolean;
  off: boolean;
  onMore: () => void;
  onTake: () => void;
}) {
  const format = useFormat();
  return (
    <Notice
      kind="mind"
      action={
        <span className="flex items-center gap-3">
          {more > 0 ? (
            <button
              type="button"
              aria-expanded={open}
              className="whitespace-nowrap text-action underline"
              onClick={onMore}
            >
              {open ? "Show less" : `${more} more`} <span className="keycap no-underline">E</span>
            </button>
          ) : null}
          <Button hotkey="A" disabled={off} onClick={onTake}>
            Apply
          </Button>
        </span>
      }
    >
      <b>{best.sentence}</b> <span className="text-ink2">{parts(best, format.signed)}</span>
    </Notice>
  );
}

function MoreAdvice({
  rows,
  off,
  onTake,
}: {
  rows: readonly AdviceRow[];
  off: boolean;
  onTake: (one: AdviceRow) => void;
}) {
  const format = useFormat();
  return (
    <ul className="border-b border-line bg-sheet">
      {rows.map((one) => (
        <li key={one.sentence} className="flex items-center gap-3 border-t border-line px-4 py-1.5">
          <Mark kind="mind" />
          <span className="grow">
            {one.sentence} <span className="text-ink2">{parts(one, format.signed)}</span>
          </span>
          <Button disabled={off} onClick={() => onTake(one)}>
            Apply
          </Button>
        </li>
      ))}
    </ul>
  );
}

function Taken({
  container,
  words,
  off,
  onBack,
}: {
  container: Schemas["WayView"] | null;
  words: string;
  off: boolean;
  onBack: () => void;
}) {
  return (
    <Notice
      kind="mind"
      action={
        <Button hotkey="Z" disabled={off} onClick={onBack}>
          Undo changes
        </Button>
      }
    >
      <b>Overridden.</b>{" "}
      {container
        ? `Chosen: ${countedNames(container.parcels.map((one) => one.candidate.name))}.`
        : ""}{" "}
      {words}
    </Notice>
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
