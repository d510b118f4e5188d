/** Setting up a trial: which versions, what is done, how large a difference is hoped for, and so how many of each. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { beginVersionTrial, damageByRecipe, recipeDamage, trialNeeded } from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import { versions as versionsOf } from "../../api/recipes";
import { fixed } from "../../domain/figures";
import { many } from "../../domain/words";
import { Choose } from "../../ui/Choose";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useRequestKey } from "../../ui/useRequestKey";
import { useToast } from "../../ui/useToast";
import { Field, Mark } from "../../ui/parts";
import { KIND_WORDS, type TrialKind } from "./trialKinds";

interface Props {
  recipeId: number | null;
  versions: readonly number[];
  onClose: () => void;
}

export function TrialSheet({ recipeId, versions, onClose }: Props) {
  const recipes = useQuery(damageByRecipe());
  const [chosen, setChosen] = useState(recipeId);
  const id = chosen ?? recipes.data?.recipes[0]?.id ?? null;
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title="New trial"
      description="Orders alternate between the versions within each carrier and zone; nobody chooses which is packed how."
      wide
    >
      <div className="flex flex-col gap-3">
        <Choose
          label="Recipe"
          value={String(id ?? "")}
          options={(recipes.data?.recipes ?? []).map((one) => ({
            value: String(one.id),
            text: `${one.name}: ${one.damaged} of ${one.known} damaged`,
          }))}
          onPick={(now) => setChosen(Number(now))}
        />
        {id === null ? null : (
          <TrialForm key={id} id={id} wanted={id === recipeId ? versions : []} onClose={onClose} />
        )}
      </div>
    </Sheet>
  );
}

interface Typed {
  kind: TrialKind;
  question: string;
  rate: string;
  hoped: string;
  each: string;
}

function TrialForm({
  id,
  wanted,
  onClose,
}: {
  id: number;
  wanted: readonly number[];
  onClose: () => void;
}) {
  const known = useQuery(versionsOf(id));
  const damage = useQuery(recipeDamage(id));
  const say = useToast();
  const [key] = useRequestKey();
  const begin = useMutation(beginVersionTrial());
  const [picked, setPicked] = useState<readonly number[] | null>(wanted.length > 1 ? wanted : null);
  const [typed, setTyped] = useState<Typed>({
    kind: "orders",
    question: "",
    rate: "",
    hoped: "",
    each: "",
  });
  const set = (part: Partial<Typed>) => setTyped((now) => ({ ...now, ...part }));
  const rows = known.data?.results ?? [];
  const chosen = picked ?? rows.slice(0, 2).map((row) => row.number);
  const rate = share(typed.rate) ?? Number(damage.data?.rate ?? 0.04);
  const hoped = share(typed.hoped) ?? Math.round(rate * 250) / 1000;
  const needed = useQuery(trialNeeded(rate, hoped, Math.max(2, chosen.length)));
  const each = Number(typed.each) || null;
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        begin.mutate(
          {
            request_key: key,
            recipe_id: id,
            versions: [...chosen],
            kind: typed.kind,
            question: typed.question.trim() || `Version ${chosen.join(" or ")}?`,
            rate: rate.toFixed(4),
            hoped: hoped.toFixed(4),
            each,
          },
          {
            onSuccess: (made) => {
              say(`The trial runs: ${made.each} of each version.`);
              onClose();
            },
          },
        );
      }}
    >
      <Versions
        rows={rows}
        chosen={chosen}
        onTick={(number, on) =>
          setPicked(on ? [...chosen, number] : chosen.filter((one) => one !== number))
        }
      />
      <Field
        label="What it is to show"
        maxLength={200}
        placeholder="Does the double wall end the crushed corners?"
        value={typed.question}
        onChange={(event) => set({ question: event.target.value })}
      />
      <div className="grid grid-cols-2 gap-3">
        <Choose
          label="What is done"
          value={typed.kind}
          options={Object.entries(KIND_WORDS).map(([value, text]) => ({ value, text }))}
          onPick={(kind) => set({ kind: kind as TrialKind })}
        />
        <Field
          label="Of each, if not as many as it takes"
          inputMode="numeric"
          placeholder={needed.data ? String(needed.data.each) : ""}
          value={typed.each}
          onChange={(event) => set({ each: event.target.value })}
        />
        <Field
          label="Damaged now, of 100"
          inputMode="decimal"
          placeholder={fixed(100 * rate, 1)}
          value={typed.rate}
          onChange={(event) => set({ rate: event.target.value })}
        />
        <Field
          label="Hoped for, of 100"
          inputMode="decimal"
          placeholder={fixed(100 * hoped, 1)}
          value={typed.hoped}
          onChange={(event) => set({ hoped: event.target.value })}
        />
      </div>
      <Takes
        rate={rate}
        hoped={hoped}
        needed={needed.data?.each}
        each={each}
        parcels={(needed.data?.each ?? 0) * chosen.length}
        aMonth={damage.data?.sent_a_month ?? 0}
      />
      <SheetFoot
        error={begin.error ?? needed.error}
        action="Start the trial"
        off={begin.isPending || chosen.length < 2}
        onCancel={onClose}
      />
    </form>
  );
}

/** How many it takes, how long that is, and that fewer would show only more. */
function Takes({
  rate,
  hoped,
  needed,
  each,
  parcels,
  aMonth,
}: {
  rate: number;
  hoped: number;
  needed: number | undefined;
  each: number | null;
  parcels: number;
  aMonth: number;
}) {
  if (needed === undefined) return null;
  const months = aMonth > 0 ? Math.max(1, Math.round(parcels / aMonth)) : 0;
  return (
    <p role="status">
      To tell {fixed(100 * rate, 1)} from {fixed(100 * hoped, 1)} of 100 takes{" "}
      <b>{needed} of each</b>
      {months > 0 ? `, ${many(months, "month")} as you send now` : ""}.
      {each !== null && each < needed ? (
        <span className="block text-mind">
          <Mark kind="mind" /> With {each} of each only a larger difference would show.
        </span>
      ) : null}
    </p>
  );
}

function Versions({
  rows,
  chosen,
  onTick,
}: {
  rows: readonly Schemas["VersionRow"][];
  chosen: readonly number[];
  onTick: (number: number, on: boolean) => void;
}) {
  return (
    <fieldset>
      <legend className="text-small text-ink2">Versions to compare</legend>
      {rows.slice(0, 8).map((row) => (
        <label key={row.number} className="flex min-h-10 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 shrink-0 accent-action"
            checked={chosen.includes(row.number)}
            onChange={(event) => onTick(row.number, event.target.checked)}
          />
          <b className="whitespace-nowrap">Version {row.number}</b>
          <span className="text-ink2">{row.reason}</span>
        </label>
      ))}
      {rows.length === 1 ? (
        <p className="text-mind">
          <Mark kind="mind" /> This recipe has one version. Draft another where it breaks, or change
          the recipe.
        </p>
      ) : null}
    </fieldset>
  );
}

/** "8" of 100, as a share; null while nothing clear is typed. */
function share(text: string): number | null {
  const value = Number(text.replace(",", ".").trim());
  return text.trim() !== "" && value >= 0 && value <= 100 ? value / 100 : null;
}
