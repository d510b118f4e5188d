/** How services are chosen: each rule, what it is, and why a new workshop begins with what it does. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { choosing } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { numberText } from "../../domain/numbers";
import { useToast } from "../../ui/overlays";
import { Pick } from "../../ui/Pick";
import { Button, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { RatesTabs } from "./RatesTabs";
import { many } from "../../domain/words";

type Rules = Schemas["Rules"];
const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

export function ChoosingScreen() {
  const found = useQuery(choosing());
  if (found.isPending) return <Waiting what="your rules" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  return (
    <>
      <RatesTabs />
      <RulesForm data={found.data} />
    </>
  );
}

/** An amount as the server reads it: "1,5" is 1.5; what may be two numbers goes as typed and is asked about. */
const amount = <T extends string | null | undefined>(typed: T): T =>
  (typeof typed === "string" && typed !== "" ? numberText(typed) : typed) as T;

function RulesForm({ data }: { data: Schemas["ChoosingOut"] }) {
  const who = useSession();
  const owner = who.role === "owner";
  const client = useQueryClient();
  const say = useToast();
  const [rules, setRules] = useState<Rules>(data.rules);
  const changed = JSON.stringify(rules) !== JSON.stringify(data.rules);
  const save = useMutation({
    mutationFn: () =>
      answer(
        api.PUT("/api/choosing", {
          body: {
            ...rules,
            trusted_unless_saves: amount(rules.trusted_unless_saves),
            signature_above: amount(rules.signature_above),
            advice_threshold: amount(rules.advice_threshold),
            little_more: amount(rules.little_more),
          },
        }),
      ),
    onSuccess: (now) => {
      setRules(now.rules);
      client.setQueryData(choosing().queryKey, now);
      say("Saved. Open orders are planned again by these rules.");
      void client.invalidateQueries({ queryKey: ["orders"] });
      void client.invalidateQueries({ queryKey: ["plan"] });
    },
  });
  const set = (change: Partial<Rules>) => setRules({ ...rules, ...change });
  const toggle = <T,>(list: readonly T[], one: T) =>
    list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
  const carriers = [
    ...new Map(data.services.map((one) => [one.carrier, one.carrier_name])).entries(),
  ];
  const used = (code: string) => rules.services.length === 0 || rules.services.includes(code);
  const use = (code: string) => {
    const now = toggle(
      rules.services.length === 0 ? data.services.map((one) => one.code) : rules.services,
      code,
    );
    set({ services: now.length === data.services.length ? [] : now });
  };
  useActions([
    { key: "k", label: "Save rules", run: () => save.mutate(), off: !owner || !changed },
  ]);
  const why = (name: keyof Rules) => data.reasons[name] ?? "";
  return (
    <>
      <ScreenHead
        title={
          rules.trusted_carrier
            ? `${new Map(carriers).get(rules.trusted_carrier) ?? rules.trusted_carrier}, unless another saves more than ${rules.trusted_unless_saves}`
            : rules.arrive_within_days
              ? `The cheapest that arrives within ${many(rules.arrive_within_days, "day")}`
              : "The cheapest service that takes the parcel"
        }
        under={
          owner
            ? "A plan takes its service by these rules; a person may choose another for one order"
            : "The owner sets these rules"
        }
      >
        {owner ? (
          <>
            <Button disabled={!changed} onClick={() => setRules(data.rules)}>
              Undo changes
            </Button>
            <Button onClick={() => setRules(data.defaults)}>Reset to defaults</Button>
            <Button
              kind="next"
              hotkey="K"
              disabled={!changed || save.isPending}
              onClick={() => save.mutate()}
            >
              Save rules
            </Button>
          </>
        ) : null}
      </ScreenHead>
      <div className="px-6">
        <ProblemNote error={save.error} />
      </div>
      <fieldset disabled={!owner} className="border-t border-line bg-sheet px-6 py-1">
        <legend className="sr-only">Choosing rules</legend>
        <Rule name="Services used" why={why("services")}>
          <div className="flex flex-wrap gap-x-6">
            {data.services.map((one) => (
              <label key={one.code} className="flex min-h-8 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-5 accent-action"
                  checked={used(one.code)}
                  onChange={() => use(one.code)}
                />
                {one.name}
              </label>
            ))}
          </div>
        </Rule>
        <Rule
          name="Trusted carrier"
          why={`${why("trusted_carrier")} ${rules.trusted_carrier ? why("trusted_unless_saves") : ""}`}
        >
          <div className="flex flex-wrap items-center gap-4">
            <Pick
              label="Trusted carrier"
              value={rules.trusted_carrier || "none"}
              options={[
                { value: "none", text: "none" },
                ...carriers.map(([code, name]) => ({ value: code, text: name })),
              ]}
              onPick={(code) => set({ trusted_carrier: code === "none" ? "" : code })}
            />
            {rules.trusted_carrier ? (
              <span className="flex items-center gap-2">
                unless another saves more than{" "}
                <Amount
                  label="Unless another saves more than"
                  value={rules.trusted_unless_saves}
                  onValue={(value) => set({ trusted_unless_saves: value })}
                />{" "}
                {who.currency}
              </span>
            ) : null}
          </div>
        </Rule>
        <Rule name="Arrives within" why={why("arrive_within_days")}>
          <span className="flex items-center gap-2">
            <input
              type="checkbox"
              aria-label="Promise a number of days"
              className="size-5 accent-action"
              checked={rules.arrive_within_days !== null}
              onChange={() =>
                set({ arrive_within_days: rules.arrive_within_days === null ? 5 : null })
              }
            />
            {rules.arrive_within_days === null ? (
              "no promise"
            ) : (
              <>
                <Whole
                  label="Days to arrive"
                  value={rules.arrive_within_days}
                  onValue={(value) => set({ arrive_within_days: value })}
                />{" "}
                days after it leaves
              </>
            )}
          </span>
        </Rule>
        <Rule name="Handed over on" why={why("ship_days")}>
          <div className="flex gap-4">
            {DAYS.map((day, index) => (
              <label key={day} className="flex min-h-8 items-center gap-1.5">
                <input
                  type="checkbox"
                  className="size-5 accent-action"
                  checked={rules.ship_days.includes(index)}
                  onChange={() =>
                    set({ ship_days: toggle(rules.ship_days, index).sort((a, b) => a - b) })
                  }
                />
                {day}
              </label>
            ))}
          </div>
        </Rule>
        <Rule name="Parcels go to homes" why={why("to_homes")}>
          <label className="flex min-h-8 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-action"
              checked={rules.to_homes}
              onChange={() => set({ to_homes: !rules.to_homes })}
            />
            yes
          </label>
        </Rule>
        <Rule name="Signed for" why={why("signature_above")}>
          <span className="flex items-center gap-2">
            <input
              type="checkbox"
              aria-label="Have parcels signed for"
              className="size-5 accent-action"
              checked={rules.signature_above !== null}
              onChange={() =>
                set({ signature_above: rules.signature_above === null ? "100.00" : null })
              }
            />
            {rules.signature_above === null ? (
              "never"
            ) : (
              <>
                goods worth more than{" "}
                <Amount
                  label="Signed for above"
                  value={rules.signature_above}
                  onValue={(value) => set({ signature_above: value })}
                />{" "}
                {who.currency}
              </>
            )}
          </span>
        </Rule>
        <Rule name="Buy cover" why={why("cover_goods")}>
          <label className="flex min-h-8 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-action"
              checked={rules.cover_goods}
              onChange={() => set({ cover_goods: !rules.cover_goods })}
            />
            for what the goods are worth
          </label>
        </Rule>
        <Rule name="Advice" why={why("advice_threshold")}>
          <span className="flex items-center gap-2">
            only what saves more than{" "}
            <Amount
              label="Advice only above"
              value={rules.advice_threshold}
              onValue={(value) => set({ advice_threshold: value })}
            />{" "}
            {who.currency}
          </span>
        </Rule>
        <Rule name="Room to spare" why={why("little_more")}>
          <span className="flex items-center gap-2">
            a little more postage is up to{" "}
            <Amount
              label="A little more postage"
              value={rules.little_more}
              onValue={(value) => set({ little_more: value })}
            />{" "}
            {who.currency}
          </span>
        </Rule>
      </fieldset>
    </>
  );
}

function Rule({ name, why, children }: { name: string; why: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[190px_minmax(0,1fr)_minmax(0,380px)] items-center gap-x-6 border-b border-line py-1.5 max-lg:grid-cols-1">
      <b>{name}</b>
      <div>{children}</div>
      <p className="text-small text-ink2">
        <span className="sr-only">Why this default: </span>
        {why}
      </p>
    </div>
  );
}

function Amount({
  label,
  value,
  onValue,
}: {
  label: string;
  value: string | number;
  onValue: (value: string) => void;
}) {
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      className="min-h-8 w-20 rounded-part border border-line2 bg-sheet px-2 text-right"
      value={value}
      onChange={(event) => onValue(event.target.value)}
    />
  );
}

function Whole({
  label,
  value,
  onValue,
}: {
  label: string;
  value: number;
  onValue: (value: number) => void;
}) {
  return (
    <input
      aria-label={label}
      type="number"
      min={1}
      max={60}
      className="min-h-8 w-20 rounded-part border border-line2 bg-sheet px-2 text-right"
      value={value}
      onChange={(event) => onValue(Math.max(1, Number(event.target.value) || 1))}
    />
  );
}
