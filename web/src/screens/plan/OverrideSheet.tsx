/** What a person decides for this one order: containers not to use, goods that may lie down, a note for the packer. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { orderPlan, rail } from "../../api/queries";
import { Sheet, useToast } from "../../ui/overlays";
import { Button, Field, ProblemNote } from "../../ui/parts";
import { Parcels } from "./Parcels";
import { countsOf, leftOver, sharesOf, type Division } from "./division";

interface Props {
  data: Schemas["OrderPlanOut"];
  open: boolean;
  onOpenChange: (open: boolean) => void;
}

export function OverrideSheet({ data, open, onOpenChange }: Props) {
  return (
    <Sheet
      open={open}
      onOpenChange={onOpenChange}
      title={`Override for order ${data.order.number}`}
      description="For this order only. It is checked, marked, and can be undone."
      wide
    >
      {open ? <Choices data={data} onDone={() => onOpenChange(false)} /> : null}
    </Sheet>
  );
}

function Choices({ data, onDone }: { data: Props["data"]; onDone: () => void }) {
  const client = useQueryClient();
  const say = useToast();
  const [forbidden, setForbidden] = useState<readonly string[]>(data.overrides.forbidden);
  const [lying, setLying] = useState<readonly string[]>(data.overrides.may_lie_down);
  const [note, setNote] = useState(data.overrides.note);
  const [notBefore, setNotBefore] = useState(data.overrides.not_before ?? "");
  const [arriveBy, setArriveBy] = useState(data.overrides.arrive_by ?? "");
  const [division, setDivision] = useState<Division>(() => ({
    parcels: data.overrides.parcels,
    shares: data.overrides.shares.length > 0 ? countsOf(data, data.overrides.shares) : null,
  }));
  const wrong = division.shares ? leftOver(data, division.shares) : "";
  const save = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/orders/{order_id}/plan/overrides", {
          params: { path: { order_id: data.order.id } },
          body: {
            forbidden: [...forbidden],
            may_lie_down: [...lying],
            not_before: notBefore || null,
            arrive_by: arriveBy || null,
            note,
            parcels: division.parcels,
            shares: division.shares ? sharesOf(data, division.shares) : [],
          },
        }),
      ),
    onSuccess: (now) => {
      client.setQueryData(orderPlan(data.order.id).queryKey, now);
      void client.invalidateQueries({ queryKey: ["orders"] });
      void client.invalidateQueries({ queryKey: rail().queryKey });
      say("Saved for this order.");
      onDone();
    },
  });
  const toggle = (list: readonly string[], code: string) =>
    list.includes(code) ? list.filter((one) => one !== code) : [...list, code];
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <fieldset className="grid grid-cols-2 gap-4">
        <legend className="text-ink2">Days</legend>
        <Field
          type="date"
          label="Not before: it is held until then"
          value={notBefore}
          onChange={(event) => setNotBefore(event.target.value)}
        />
        <Field
          type="date"
          label="Must arrive by"
          value={arriveBy}
          onChange={(event) => setArriveBy(event.target.value)}
        />
      </fieldset>
      <fieldset>
        <legend className="text-ink2">Any orientation, this order only</legend>
        {data.order.lines.map((line) => (
          <Tick
            key={line.sku}
            label={line.title || line.sku}
            on={lying.includes(line.sku)}
            onToggle={() => setLying(toggle(lying, line.sku))}
          />
        ))}
      </fieldset>
      <fieldset>
        <legend className="text-ink2">Do not use</legend>
        <div className="grid grid-cols-2 gap-x-4 max-lg:grid-cols-1">
          {containersOf(data).map(([code, name]) => (
            <Tick
              key={code}
              label={`${code} ${name}`.trim()}
              on={forbidden.includes(code)}
              onToggle={() => setForbidden(toggle(forbidden, code))}
            />
          ))}
        </div>
      </fieldset>
      <Parcels data={data} division={division} onChange={setDivision} wrong={wrong} />
      <Field
        label="Note for whoever packs it"
        maxLength={300}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <ProblemNote error={save.error} />
      <div className="flex gap-3">
        <Button type="submit" kind="next" disabled={save.isPending || wrong !== ""}>
          Save
        </Button>
        <Button
          onClick={() => {
            setForbidden([]);
            setLying([]);
            setNotBefore("");
            setArriveBy("");
            setNote("");
            setDivision({ parcels: null, shares: null });
          }}
        >
          Clear all
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

function Tick({ label, on, onToggle }: { label: string; on: boolean; onToggle: () => void }) {
  return (
    <label className="flex min-h-10 items-center gap-2">
      <input type="checkbox" className="size-5 accent-action" checked={on} onChange={onToggle} />
      {label}
    </label>
  );
}

/** Every container this plan weighed or ruled out, once, by code. */
export function containersOf(data: Props["data"]): [code: string, name: string][] {
  const { plan } = data;
  const planned = plan.status === "planned";
  const names = new Map([
    ...plan.ruled_out.map((one) => [one.container, one.name] as const),
    ...(planned ? plan.supplies.map((one) => [one.code, one.name] as const) : []),
  ]);
  const codes = new Set([
    ...(planned ? plan.ways.flatMap((way) => way.containers) : []),
    ...plan.ruled_out.map((one) => one.container),
    ...data.overrides.forbidden,
  ]);
  return [...codes].sort().map((code) => [code, names.get(code) ?? ""]);
}
