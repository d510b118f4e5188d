/** The prices of a service: one grid, or one for each class of size. */
import { useState } from "react";
import { PickRow } from "../../ui/PickRow";
import { TypedField } from "../../ui/TypedField";
import { LimitFields } from "./LimitFields";
import { PriceGrid } from "./PriceGrid";
import { newSize, type ServiceRow, type SizeRow } from "./typedList";

interface Props {
  service: ServiceRow;
  columns: string[];
  set: (now: Partial<ServiceRow>) => void;
}

export function SizeClasses({ service, columns, set }: Props) {
  const [shown, setShown] = useState(0);
  const at = Math.min(shown, service.sizes.length - 1);
  const size = service.sizes[at];
  const several = service.sizes.length > 1 || Boolean(service.sizes[0]?.name);
  const change = (now: SizeRow) =>
    set({ sizes: service.sizes.map((one, n) => (n === at ? now : one)) });
  const add = () => {
    const named = several
      ? service.sizes
      : service.sizes.map((one) => ({ ...one, name: one.name || "Small" }));
    set({ sizes: [...named, newSize(columns.length, `Size ${named.length + 1}`)] });
    setShown(named.length);
  };
  if (!size) return null;
  return (
    <section className="mt-4" aria-label="Prices">
      <div className="flex flex-wrap items-center gap-x-6">
        {several ? (
          <PickRow
            label="Size classes, the smallest first"
            value={String(at)}
            options={service.sizes.map((one, n) => ({
              value: String(n),
              text: one.name || `Size ${n + 1}`,
            }))}
            onPick={(value) => setShown(Number(value))}
            small
          />
        ) : null}
        <button type="button" className="min-h-10 text-action underline" onClick={add}>
          {several ? "Add a size class" : "Prices by size class"}
        </button>
        {several ? (
          <button
            type="button"
            className="min-h-10 text-ink2 underline"
            onClick={() =>
              set({
                sizes:
                  service.sizes.length > 1
                    ? service.sizes.filter((_, n) => n !== at)
                    : [{ ...size, name: "" }],
              })
            }
          >
            Take this class off
          </button>
        ) : null}
      </div>
      {several ? (
        <>
          <TypedField
            values={size}
            name="name"
            set={(now) => change({ ...size, ...now })}
            label="Name of the class"
            className="mt-2 w-64"
            maxLength={80}
          />
          <LimitFields limits={size.limits} onChange={(limits) => change({ ...size, limits })} />
        </>
      ) : null}
      <PriceGrid key={at} size={size} columns={columns} onChange={change} />
    </section>
  );
}
