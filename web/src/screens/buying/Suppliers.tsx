/** Who sells packing supplies, and how it comes. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { retireSupplier, saveSupplier, suppliers } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useFormat, useSession } from "../../app/session";
import { numberText } from "../../domain/numbers";
import { many, WEEKDAYS } from "../../domain/words";
import { Button, Empty, Field, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";

type Supplier = Schemas["SupplierOut"];

export function Suppliers({ filters }: { filters: ReactNode }) {
  const query = useQuery(suppliers());
  const format = useFormat();
  const owner = useSession().role === "owner";
  const [open, setOpen] = useState<Supplier | "new" | null>(null);
  if (query.isPending) return <Waiting what="the suppliers" />;
  if (query.isError)
    return (
      <div className="p-6">
        <ProblemNote error={query.error} />
      </div>
    );
  const rows = query.data.results;
  return (
    <>
      <ScreenHead
        title={rows.length === 0 ? "No supplier yet" : many(rows.length, "supplier")}
        under="Who sells packing supplies, how long it takes, what the delivery costs"
      >
        {filters}
        {owner ? (
          <Button kind={rows.length === 0 ? "next" : "plain"} onClick={() => setOpen("new")}>
            New supplier
          </Button>
        ) : null}
      </ScreenHead>
      <div className="border-t border-line bg-sheet px-6 py-4">
        {rows.length === 0 ? (
          <Empty title="Add who you buy from">
            <p>
              Then say on each supply&rsquo;s page what they ask for it: the list under To buy
              follows.
            </p>
          </Empty>
        ) : (
          <table className="rule-table">
            <thead>
              <tr>
                <th>Supplier</th>
                <th>Takes</th>
                <th>Delivery</th>
                <th>Sells</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.id}>
                  <td>
                    {owner ? (
                      <button
                        type="button"
                        className="min-h-11 font-semibold text-action hover:underline"
                        onClick={() => setOpen(row)}
                      >
                        {row.name}
                      </button>
                    ) : (
                      <b>{row.name}</b>
                    )}
                    <span className="block text-small text-ink2">{row.contact}</span>
                  </td>
                  <td>
                    {many(row.lead_days, "working day")}
                    {row.delivers_on.length > 0
                      ? `, comes on ${row.delivers_on.map((day) => WEEKDAYS[day]).join(", ")}`
                      : ""}
                  </td>
                  <td>
                    {format.money(row.delivery)}
                    {row.free_from === null ? "" : `, free from ${format.money(row.free_from)}`}
                  </td>
                  <td className="max-w-md text-small">
                    {row.supplies.length === 0 ? "nothing yet" : row.supplies.join(", ")}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
      {open ? (
        <SupplierSheet supplier={open === "new" ? null : open} onClose={() => setOpen(null)} />
      ) : null}
    </>
  );
}

function SupplierSheet({ supplier, onClose }: { supplier: Supplier | null; onClose: () => void }) {
  const [typed, setTyped] = useState({
    name: supplier?.name ?? "",
    lead_days: String(supplier?.lead_days ?? 5),
    delivery: supplier ? String(Number(supplier.delivery)) : "0",
    free_from: supplier?.free_from ? String(Number(supplier.free_from)) : "",
    contact: supplier?.contact ?? "",
    note: supplier?.note ?? "",
  });
  const [days, setDays] = useState<number[]>(supplier?.delivers_on ?? []);
  const save = useMutation({ ...saveSupplier(), onSuccess: onClose });
  const retire = useMutation({ ...retireSupplier(), onSuccess: onClose });
  const field = (name: keyof typeof typed) => ({
    value: typed[name],
    onChange: (event: { target: { value: string } }) =>
      setTyped({ ...typed, [name]: event.target.value }),
  });
  return (
    <Sheet
      open
      onOpenChange={(now) => !now && onClose()}
      title={supplier ? supplier.name : "New supplier"}
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate({
            id: supplier?.id ?? null,
            body: {
              name: typed.name,
              lead_days: Math.round(Number(numberText(typed.lead_days || "0"))),
              delivers_on: [...days].sort(),
              delivery: numberText(typed.delivery || "0"),
              free_from: typed.free_from.trim() ? numberText(typed.free_from) : null,
              contact: typed.contact,
              note: typed.note,
            },
          });
        }}
      >
        <Field label="Name" required autoFocus maxLength={80} {...field("name")} />
        <Field
          label="From the order to the arrival, working days"
          inputMode="numeric"
          required
          {...field("lead_days")}
        />
        <fieldset>
          <legend className="text-small text-ink2">Comes on (none: any working day)</legend>
          <div className="mt-1 flex flex-wrap gap-4">
            {WEEKDAYS.map((name, day) => (
              <label key={name} className="inline-flex min-h-9 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-5 accent-action"
                  checked={days.includes(day)}
                  onChange={(event) =>
                    setDays(
                      event.target.checked ? [...days, day] : days.filter((one) => one !== day),
                    )
                  }
                />
                {name.slice(0, 3)}
              </label>
            ))}
          </div>
        </fieldset>
        <div className="grid grid-cols-2 gap-4">
          <Field label="Delivery of an order" inputMode="decimal" {...field("delivery")} />
          <Field
            label="Free from"
            hint="Sum of goods; empty: never"
            inputMode="decimal"
            {...field("free_from")}
          />
        </div>
        <Field label="Where orders go" maxLength={200} {...field("contact")} />
        <Field label="Note" maxLength={200} {...field("note")} />
        <SheetFoot
          error={save.error ?? retire.error}
          action="Save"
          off={save.isPending}
          onCancel={onClose}
        >
          {supplier ? (
            <Button
              kind="stop"
              disabled={retire.isPending}
              onClick={() => retire.mutate(supplier.id)}
            >
              Retire
            </Button>
          ) : null}
        </SheetFoot>
      </form>
    </Sheet>
  );
}
