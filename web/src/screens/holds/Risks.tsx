/** What is done with an order whose payment its channel marks as a risk: packed, held, refused. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { setRiskActions, riskActions } from "../../api/leaving";
import type { Schemas } from "../../api/client";
import { useSession } from "../../app/session";
import { Pick } from "../../ui/Pick";
import { useToast } from "../../ui/useToast";

const LEVELS = ["low", "medium", "high"] as const;
const ACTIONS = [
  { value: "pack", text: "pack it" },
  { value: "hold", text: "hold it until I looked" },
  { value: "refuse", text: "refuse it" },
];

export function Risks() {
  const query = useQuery(riskActions());
  const say = useToast();
  const owner = useSession().role === "owner";
  const save = useMutation({
    ...setRiskActions(),
    onSuccess: () => say("Saved. It holds for orders that come in from now on."),
    onError: (error) => say(error.message, "stop"),
  });
  const now = query.data;
  if (!now) return null;
  return (
    <section className="mt-8">
      <h2 className="border-b border-line2 pb-1.5 text-lead">
        When a channel marks a payment as a risk
      </h2>
      <div className="flex flex-wrap gap-6 py-3">
        {LEVELS.map((level) => (
          <div key={level}>
            <p className="mb-1 text-small text-ink2">{level} risk</p>
            {owner ? (
              <Pick
                label={`${level} risk`}
                value={now[level]}
                options={ACTIONS}
                onPick={(value) =>
                  save.mutate({ ...now, [level]: value } as Schemas["RiskActionsDoc"])
                }
                className="min-h-10 w-56"
              />
            ) : (
              <p>{ACTIONS.find((one) => one.value === now[level])?.text}</p>
            )}
          </div>
        ))}
      </div>
    </section>
  );
}
