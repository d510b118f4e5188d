/** A way to charge postage, typed and seen at once over our own orders; kept under a name. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { policyRun, savePolicy } from "../../api/money";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { useRested } from "../../ui/useRested";
import { percent } from "../../domain/figures";
import { many } from "../../domain/words";
import { Choose } from "../../ui/Choose";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import { Button, Field, Mark } from "../../ui/parts";
import {
  docOf,
  emptyBase,
  emptyPolicy,
  KIND_WORDS,
  typedFrom,
  type BaseKind,
  type TypedBase,
} from "./policyFields";

type Run = Schemas["PolicyRunOut"];

interface Props {
  weeks: number;
  data: Schemas["ChargesOut"];
  begin: Run | null;
  onClose: () => void;
}

export function PolicySheet({ weeks, data, begin, onClose }: Props) {
  const format = useFormat();
  const say = useToast();
  const [name, setName] = useState(begin?.name ?? "");
  const [typed, setTyped] = useState(() =>
    begin
      ? typedFrom(begin.document as unknown as Schemas["PolicyDoc"], format.system)
      : emptyPolicy(data.break_even_fee === null ? "" : String(data.break_even_fee)),
  );
  const change = (part: Partial<typeof typed>) => setTyped((now) => ({ ...now, ...part }));
  const doc = docOf(typed, format.system);
  const rested = useRested(JSON.stringify(doc), 300);
  const run = useQuery(policyRun(weeks, JSON.parse(rested) as Schemas["PolicyDoc"] | null));
  const zones = data.as_charged.by_zone.map((one) => one.key);
  const free = zones.filter((zone) => !typed.zones.some((one) => one.zone === zone));
  const save = useMutation({
    ...savePolicy(),
    onSuccess: (done) => {
      say(`${done.name} is kept.`);
      onClose();
    },
  });
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title={begin ? `Change ${begin.name}` : "Try another charge"}
      description="Worked out on the orders of these weeks while you type; nothing is changed."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (doc) save.mutate({ name: name.trim(), document: doc });
        }}
      >
        <BaseFields label="Buyers pay" base={typed} onChange={change} />
        <div className="grid grid-cols-2 gap-3">
          <Field
            label="Free from goods worth"
            hint="Empty: never"
            inputMode="decimal"
            value={typed.freeFrom}
            onChange={(event) => change({ freeFrom: event.target.value })}
          />
          <Field
            label="Ends in"
            hint="As 0.50 0.95; empty: as it comes"
            value={typed.endings}
            onChange={(event) => change({ endings: event.target.value })}
          />
        </div>
        {typed.zones.map((one, at) => (
          <div key={one.zone} className="border-l-2 border-line2 pl-3">
            <BaseFields
              label={`Zone ${one.zone} pays`}
              base={one.base}
              onChange={(part) =>
                change({
                  zones: typed.zones.map((each, index) =>
                    index === at ? { ...each, base: { ...each.base, ...part } } : each,
                  ),
                })
              }
            />
            <Button
              kind="quiet"
              onClick={() => change({ zones: typed.zones.filter((_, index) => index !== at) })}
            >
              Zone {one.zone} pays like the others
            </Button>
          </div>
        ))}
        {free.length > 0 && zones.length > 1 ? (
          <div className="flex flex-wrap items-center gap-2 text-small text-ink2">
            Its own for zone
            {free.map((zone) => (
              <Button
                key={zone}
                onClick={() => change({ zones: [...typed.zones, { zone, base: emptyBase() }] })}
              >
                {zone}
              </Button>
            ))}
          </div>
        ) : null}
        <Outcome run={doc ? run.data?.runs[0] : undefined} now={data.as_charged} />
        <Field
          label="Keep it as"
          required
          maxLength={60}
          placeholder="5.90, free from 45"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <SheetFoot
          error={save.error ?? (doc ? run.error : null)}
          action="Save"
          off={save.isPending || doc === null || name.trim() === ""}
          onCancel={onClose}
        />
      </form>
    </Sheet>
  );
}

function BaseFields({
  label,
  base,
  onChange,
}: {
  label: string;
  base: TypedBase;
  onChange: (part: Partial<TypedBase>) => void;
}) {
  const format = useFormat();
  const stepped = base.kind === "by_weight" || base.kind === "by_value";
  const step = (at: number, part: Partial<TypedBase["steps"][number]>) =>
    onChange({ steps: base.steps.map((one, index) => (index === at ? { ...one, ...part } : one)) });
  return (
    <div className="flex flex-col gap-2">
      <Choose
        label={label}
        value={base.kind}
        options={Object.entries(KIND_WORDS).map(([value, text]) => ({ value, text }))}
        onPick={(kind) => onChange({ kind: kind as BaseKind })}
      />
      {base.kind === "flat" || base.kind === "pick_up" ? (
        <Field
          label="Amount"
          inputMode="decimal"
          value={base.amount}
          onChange={(event) => onChange({ amount: event.target.value })}
        />
      ) : null}
      {base.kind === "by_carrier" ? (
        <div className="grid grid-cols-2 gap-3">
          <Field
            label="And percent of it"
            unit="%"
            inputMode="decimal"
            value={base.percent}
            onChange={(event) => onChange({ percent: event.target.value })}
          />
          <Field
            label="And for handling"
            inputMode="decimal"
            value={base.fixed}
            onChange={(event) => onChange({ fixed: event.target.value })}
          />
        </div>
      ) : null}
      {stepped ? (
        <>
          {base.steps.map((one, at) => (
            <div key={at} className="grid grid-cols-2 gap-3">
              <Field
                label={
                  base.kind === "by_weight"
                    ? `Up to, ${format.imperial ? "oz or lb" : "g or kg"}`
                    : "From goods worth"
                }
                value={one.upTo}
                onChange={(event) => step(at, { upTo: event.target.value })}
              />
              <Field
                label="Amount"
                inputMode="decimal"
                value={one.amount}
                onChange={(event) => step(at, { amount: event.target.value })}
              />
            </div>
          ))}
          <div>
            <Button
              kind="quiet"
              onClick={() => onChange({ steps: [...base.steps, { upTo: "", amount: "" }] })}
            >
              Another step
            </Button>
          </div>
        </>
      ) : null}
    </div>
  );
}

function Outcome({ run, now }: { run: Run | undefined; now: Run }) {
  const format = useFormat();
  if (!run)
    return (
      <p className="text-small text-ink2">
        Type the amounts; then what it leaves over your own orders stands here.
      </p>
    );
  const more = Number(run.left) - Number(now.left);
  return (
    <div role="status" className="border-t border-line bg-ground px-3 py-2">
      <p className="text-lead">
        <b>{format.signed(run.left)} left on postage</b>, {format.signed(more)} against what buyers
        were charged
      </p>
      <p className="text-small text-ink2">
        {many(run.short, "order")} short; the middle order {format.signed(run.median)}
        {run.break_even_fee ? `; a flat fee would need ${format.money(run.break_even_fee)}` : ""}
        {run.just_below === null
          ? ""
          : `; ${percent(run.just_below)} of buyers are just below the free sum`}
      </p>
      {run.refused.length > 0 ? (
        <p className="text-small text-stop">
          <Mark kind="stop" /> It has no charge for {many(run.refused.length, "order")}, heavier
          than its last step: {run.refused.slice(0, 5).join(", ")}
        </p>
      ) : null}
    </div>
  );
}
