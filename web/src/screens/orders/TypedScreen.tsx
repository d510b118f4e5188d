/** An order by hand: a counter sale, a letter; or one that is changed. What comes of it is planned beside it. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate, useParams } from "react-router";
import { addOrder, changeOrder, order as orderQuery } from "../../api/orders";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { useZodForm } from "../../ui/form";
import { FormField, FormTick, type FormOf } from "../../ui/FormField";
import { Button, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { useDraft } from "../../ui/useDraft";
import { useRequestKey } from "../../ui/useRequestKey";
import { useSubmitKey } from "../../ui/useSubmitKey";
import { useToast } from "../../ui/useToast";
import { BuyerField } from "./BuyerField";
import { Comes } from "./Comes";
import { Lines } from "./Lines";
import { fieldAt, ORDER, typedOf, type Typed, type TypedOrder } from "./typed";

export function NewOrderScreen() {
  return <TypedScreen key="new" order={null} />;
}

export function ChangeOrderScreen() {
  const id = Number(useParams().orderId);
  const found = useQuery(orderQuery(id));
  if (found.isPending) return <Waiting what="the order" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  return <TypedScreen key={`${id}-${found.data.revision}`} order={found.data} />;
}

function TypedScreen({ order }: { order: Schemas["OrderOut"] | null }) {
  const navigate = useNavigate();
  const say = useToast();
  const { country } = useSession();
  const draft = useDraft<Typed>(order ? `order-${order.id}-${order.revision}` : "order-new", () =>
    typedOf(order, country),
  );
  const save = useSave(order, (now) => {
    draft.drop();
    say(`Order ${now.number} is ${order ? "changed" : "taken in"}.`);
    void navigate(`/plan/${now.id}`);
  });
  const form = useZodForm<Typed, TypedOrder>(ORDER, draft.value, {
    error: save.error,
    fieldOf: fieldAt,
  });
  const { setValue: keep } = draft;
  useEffect(() => {
    const watching = form.watch((now) => keep(structuredClone(now) as Typed));
    return () => watching.unsubscribe();
  }, [form, keep]);
  const send = () => void form.handleSubmit(save.send)();
  const leave = () => void navigate(order ? `/plan/${order.id}` : "/orders");
  useSubmitKey(send);
  useActions([{ key: "escape", label: "Leave it", run: leave }]);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <ScreenHead
        title={order ? `Change order ${order.number}` : "New order"}
        under={
          order
            ? "Its plan is made again; what it had reserved is free for the new one"
            : "A counter sale, a letter, a call"
        }
      >
        <Button onClick={leave} hotkey="Esc">
          Cancel
        </Button>
        <Button type="submit" kind="next" hotkey="Ctrl Enter" disabled={save.isPending}>
          {order ? "Save the change" : "Save the order"}
        </Button>
      </ScreenHead>
      {draft.restored ? (
        <Notice
          kind="mind"
          action={
            <Button
              onClick={() => {
                form.reset(typedOf(order, country));
                draft.restart();
              }}
            >
              Begin again
            </Button>
          }
        >
          This is your draft; it was not saved yet.
        </Notice>
      ) : null}
      {save.error ? (
        <div className="px-6 pb-3">
          <ProblemNote error={save.error} />
        </div>
      ) : null}
      <div className="grid grid-cols-[minmax(0,1fr)_340px] border-t border-line bg-sheet max-lg:grid-cols-1">
        <div className="grid content-start gap-x-8 gap-y-5 px-6 py-5 md:grid-cols-2">
          <Address form={form} isNew={order === null} />
          <Rest form={form} isNew={order === null} />
          <div className="md:col-span-2">
            <Lines form={form} />
          </div>
        </div>
        <aside
          className="border-l border-line px-6 py-5 max-lg:border-l-0 max-lg:border-t"
          aria-label="What comes of it"
        >
          <Comes form={form} orderId={order?.id ?? null} />
        </aside>
      </div>
    </form>
  );
}

/** Add or change: pressed twice, or its answer lost, it is one order. */
function useSave(order: Schemas["OrderOut"] | null, onSaved: (now: Schemas["OrderOut"]) => void) {
  const [key] = useRequestKey();
  const add = useMutation({ ...addOrder(), onSuccess: onSaved });
  const change = useMutation({ ...changeOrder(order?.id ?? 0), onSuccess: onSaved });
  return {
    error: add.error ?? change.error,
    isPending: add.isPending || change.isPending,
    send: (typed: TypedOrder) => {
      if (add.isPending || change.isPending) return;
      if (order) change.mutate({ order: typed, revision: order.revision });
      else add.mutate({ order: typed, request_key: key });
    },
  };
}

interface Part {
  form: FormOf<Typed>;
  isNew: boolean;
}

function Address({ form, isNew }: Part) {
  return (
    <fieldset className="flex flex-col gap-3">
      <legend className="sr-only">Where it goes</legend>
      <BuyerField form={form} focus={isNew} />
      <FormField form={form} name="street" label="Street and number" maxLength={120} />
      <FormField form={form} name="more" label="More of the address" maxLength={120} />
      <div className="grid grid-cols-[7rem_1fr_5rem] gap-3">
        <FormField form={form} name="postcode" label="Postcode" maxLength={12} />
        <FormField form={form} name="town" label="Town" maxLength={120} />
        <FormField form={form} name="country" label="Country" maxLength={3} />
      </div>
    </fieldset>
  );
}

function Rest({ form, isNew }: Part) {
  return (
    <fieldset className="flex flex-col gap-3">
      <legend className="sr-only">The order</legend>
      <div className="grid grid-cols-2 gap-3">
        <FormField
          form={form}
          name="number"
          label="Order number"
          maxLength={40}
          disabled={!isNew}
          hint={isNew ? "Empty: the next one." : undefined}
        />
        <FormField form={form} name="postage" label="Postage charged" inputMode="decimal" />
      </div>
      <FormField form={form} name="note" label="The buyer's note" maxLength={500} />
      <div className="flex gap-6">
        <FormTick form={form} name="flags" value="paid" label="Paid" />
        <FormTick form={form} name="flags" value="gift" label="A present" />
      </div>
    </fieldset>
  );
}
