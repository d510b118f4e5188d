/** The month's money, how long an order is to last, the season: what the list is worked out with. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { saveBuyingSettings } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { numberText } from "../../domain/numbers";
import { Field } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";

type Doc = Schemas["BuyingSettingsDoc"];

const MONTHS = "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec".split(" ");
const WHOLE = [
  ["cover_weeks", "An order should last, weeks", "After it has arrived."],
  [
    "longest_weeks",
    "Nothing is bought for longer than, weeks",
    "What lasts longer is money asleep.",
  ],
  ["within_days", "Listed when it must be ordered within, working days", ""],
  [
    "anyway_days",
    "Added when it must be ordered within, working days",
    "By a supplier that is ordered from anyway.",
  ],
  ["interest_percent", "Money on the shelf costs, % a year", "Rent, interest, what goes stale."],
] as const;

export function BuyingSettingsSheet({ now, onClose }: { now: Doc; onClose: () => void }) {
  const say = useToast();
  const [typed, setTyped] = useState(
    () =>
      ({
        budget: now.budget ?? "",
        z: String(Number(now.z)),
        keeping_a_kind: String(Number(now.keeping_a_kind)),
        ...Object.fromEntries(WHOLE.map(([name]) => [name, String(now[name])])),
        ...Object.fromEntries(now.season.map((one, at) => [`m${at}`, String(Number(one))])),
      }) as Record<string, string>,
  );
  const save = useMutation({
    ...saveBuyingSettings(),
    onSuccess: () => {
      say("Saved. The list is worked out with it.");
      onClose();
    },
  });
  const field = (name: string) => ({
    value: typed[name] ?? "",
    onChange: (event: { target: { value: string } }) =>
      setTyped({ ...typed, [name]: event.target.value }),
    inputMode: "decimal" as const,
  });
  const number = (name: string) => numberText(typed[name] ?? "");
  return (
    <Sheet open onOpenChange={(open) => !open && onClose()} title="Budget and rules of buying" wide>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate({
            budget: typed.budget?.trim() ? number("budget") : null,
            z: number("z"),
            keeping_a_kind: number("keeping_a_kind"),
            season: MONTHS.map((_, at) => number(`m${at}`)),
            ...(Object.fromEntries(
              WHOLE.map(([name]) => [name, Math.round(Number(number(name)))]),
            ) as Pick<Doc, (typeof WHOLE)[number][0]>),
          });
        }}
      >
        <div className="grid grid-cols-2 gap-4 max-lg:grid-cols-1">
          <Field label="For supplies, a month" hint="Empty: no limit." {...field("budget")} />
          <Field
            label="Safety, deviations"
            hint="1.645: one week in twenty is worse than that."
            {...field("z")}
          />
          {WHOLE.map(([name, label, hint]) => (
            <Field key={name} label={label} hint={hint || undefined} {...field(name)} />
          ))}
          <Field
            label="Keeping a kind of carton, a year"
            hint="Its place on the shelf and its care."
            {...field("keeping_a_kind")}
          />
        </div>
        <fieldset>
          <legend className="text-small text-ink2">
            Season: how much each month uses beside the year&rsquo;s mean
          </legend>
          <div className="mt-1 grid grid-cols-6 gap-2">
            {MONTHS.map((month, at) => (
              <Field key={month} label={month} {...field(`m${at}`)} />
            ))}
          </div>
        </fieldset>
        <SheetFoot error={save.error} action="Save" off={save.isPending} onCancel={onClose} />
      </form>
    </Sheet>
  );
}
