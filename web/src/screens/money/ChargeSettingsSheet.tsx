/** How charges end, what may be lost by the table, whether buyers just below a free sum are assumed to fill it up. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { moneySettings, saveMoneySettings } from "../../api/money";
import type { Schemas } from "../../api/client";
import { numberText } from "../../domain/numbers";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import { Field, ProblemNote } from "../../ui/parts";

export function ChargeSettingsSheet({ onClose }: { onClose: () => void }) {
  const query = useQuery(moneySettings());
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title="Endings and assumptions"
      description="What the shop's table is rounded to, and what is assumed of buyers."
    >
      {query.data ? <Form settings={query.data} onClose={onClose} /> : null}
      <ProblemNote error={query.error} />
    </Sheet>
  );
}

function Form({
  settings,
  onClose,
}: {
  settings: Schemas["MoneySettingsDoc"];
  onClose: () => void;
}) {
  const say = useToast();
  const [typed, setTyped] = useState({
    endings: settings.endings.join(" "),
    most_lost: String(settings.most_lost),
    percent: settings.demand_percent === null ? "" : String(settings.demand_percent),
    within: String(settings.demand_within),
  });
  const set = (part: Partial<typeof typed>) => setTyped((now) => ({ ...now, ...part }));
  const save = useMutation({
    ...saveMoneySettings(),
    onSuccess: () => {
      say("Saved. The table is worked out again.");
      onClose();
    },
  });
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({
          endings: typed.endings
            .split(/[\s;]+/)
            .filter(Boolean)
            .map(numberText),
          most_lost: numberText(typed.most_lost),
          demand_percent: typed.percent.trim() === "" ? null : Number(typed.percent),
          demand_within: numberText(typed.within),
        });
      }}
    >
      <Field
        label="The shop's prices end in"
        hint="As 0.50 0.95; empty: in anything"
        value={typed.endings}
        onChange={(event) => set({ endings: event.target.value })}
      />
      <Field
        label="An order of the table may lose, at most"
        inputMode="decimal"
        required
        value={typed.most_lost}
        onChange={(event) => set({ most_lost: event.target.value })}
      />
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Of buyers just below a free sum fill it up"
          unit="%"
          hint="Empty: nothing is assumed"
          type="number"
          min={0}
          max={100}
          value={typed.percent}
          onChange={(event) => set({ percent: event.target.value })}
        />
        <Field
          label="Just below means within"
          inputMode="decimal"
          required
          value={typed.within}
          onChange={(event) => set({ within: event.target.value })}
        />
      </div>
      <SheetFoot error={save.error} action="Save" off={save.isPending} onCancel={onClose} />
    </form>
  );
}
