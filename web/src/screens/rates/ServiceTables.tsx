/** One service of a price list: its prices zone by zone, what it adds, takes, covers and refuses. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { many } from "../../domain/words";
import { Table } from "../../ui/list/Table";
import {
  coverWords,
  daysWords,
  limitsOf,
  stepRows,
  sumWords,
  surchargeWords,
  volumetricOf,
  volumetricWords,
} from "./tables";

type Service = Schemas["ServiceDoc"];
type Format = NonNullable<Service["formats"]>[number];

interface Props {
  service: Service;
  conditions: Record<string, string>;
}

export function ServiceTables({ service, conditions }: Props) {
  const formats: readonly Format[] =
    service.formats && service.formats.length > 0
      ? service.formats
      : [{ code: "", name: "", limits: {} as Schemas["LimitsDoc"], zones: service.zones ?? [] }];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_330px] gap-x-8 max-xl:grid-cols-1">
      <div className="min-w-0">
        {formats.map((one) => (
          <FormatTable key={one.code} format={one} />
        ))}
      </div>
      <Terms service={service} conditions={conditions} />
    </div>
  );
}

/** A line of the table: a step of weight with a price a zone, or what each further step costs. */
interface PriceLine {
  upTo: string;
  prices: readonly string[];
}

function FormatTable({ format: one }: { format: Format }) {
  const format = useFormat();
  const { steps, increments } = stepRows(one.zones);
  const limits = one.name ? limitsOf(one.limits, format) : [];
  const lines: PriceLine[] = steps.map((row) => ({
    upTo: format.weight(row.up_to_mg),
    prices: row.prices.map((price) => (price === null ? "" : format.money(price))),
  }));
  if (increments)
    lines.push({
      upTo: `each ${format.weight(increments[0]?.each_mg ?? 0)} more, up to ${format.weight(increments[0]?.max_mg ?? 0)}`,
      prices: increments.map((more) => `+ ${format.money(more.each)}`),
    });
  return (
    <>
      <h3 className="mt-3 text-base">
        {one.name || "Prices by weight"}
        {limits.length > 0 ? (
          <span className="ml-2 font-text text-small font-normal text-ink2">
            {limits.join(", ")}
          </span>
        ) : null}
      </h3>
      <Table
        caption={one.name || "Prices by weight"}
        rows={lines}
        rowKey={(line) => line.upTo}
        columns={[
          { key: "up_to", name: "Up to", cell: (line) => line.upTo },
          ...one.zones.map((zone, at) => ({
            key: zone.zone,
            num: true,
            name: (
              <>
                Zone {zone.zone}
                <span className="block font-normal">{many(zone.transit_days, "day")}</span>
              </>
            ),
            cell: (line: PriceLine) => line.prices[at] ?? "",
          })),
        ]}
      />
    </>
  );
}

function Terms({ service, conditions }: Props) {
  return (
    <dl className="mt-2 text-small">
      <Measured service={service} />
      <Added service={service} conditions={conditions} />
    </dl>
  );
}

/** What it takes, and how size and weight count. */
function Measured({ service }: { service: Service }) {
  const format = useFormat();
  return (
    <>
      <Part name="Takes" lines={limitsOf(service.limits, format)} />
      {volumetricOf(service).map((one, at) => (
        <Part key={at} name="Size counts" lines={[volumetricWords(one, format)]} />
      ))}
      {(service.weight_round_mg ?? 1) > 1 ? (
        <Part
          name="Weight"
          lines={[
            `counted in ${format.weight(service.weight_round_mg ?? 1)}, ${service.weight_rounding === "nearest" ? "to the nearest" : "rounded up"}`,
          ]}
        />
      ) : null}
      {service.least_billable_mg ? (
        <Part
          name="Least"
          lines={[`no parcel counts as less than ${format.weight(service.least_billable_mg)}`]}
        />
      ) : null}
    </>
  );
}

/** What it adds to the price, covers, refuses, and when it moves. */
function Added({ service, conditions }: Props) {
  const format = useFormat();
  return (
    <>
      {(service.surcharges ?? []).map((one) => (
        <Part
          key={one.code}
          name={one.name}
          lines={[surchargeWords(one, conditions[one.code] ?? "", format)]}
        />
      ))}
      {sumWords(service, format).map(([name, lines]) =>
        lines.length > 0 ? <Part key={name} name={name} lines={lines} /> : null,
      )}
      <Part name="Cover" lines={coverWords(service, format)} />
      {(service.refuses ?? []).length > 0 ? (
        <Part name="Refuses" lines={[(service.refuses ?? []).join(", ")]} />
      ) : null}
      <Part
        name="Moves"
        lines={[
          daysWords(service.days_moved),
          `cut-off ${service.cut_off.slice(0, 5)}`,
          ...((service.delivery_days ?? []).length > 0
            ? [`handed over ${daysWords(service.delivery_days ?? [])}`]
            : []),
          ...(service.delivers_to && service.delivers_to !== "door"
            ? [`fetched at a ${service.delivers_to}`]
            : []),
        ]}
      />
      <Part
        name="Tape and label"
        lines={[
          {
            over: "tape may go over the label",
            edges: "tape on the label's edges only",
            never: "no tape on the label",
          }[service.tape_over_label ?? "never"],
          ...(service.markings ?? []).map(
            (one) =>
              `“${one.text}”${one.weight_above_mg ? ` above ${format.weight(one.weight_above_mg)}` : ""}${(one.goods ?? []).length > 0 ? ` on ${(one.goods ?? []).join(", ")} goods` : ""}`,
          ),
        ]}
      />
      {service.claim_days !== null && service.claim_days !== undefined ? (
        <Part name="Claims" lines={[`within ${many(service.claim_days, "day")}`]} />
      ) : null}
    </>
  );
}

function Part({ name, lines }: { name: string; lines: readonly string[] }) {
  return (
    <div className="grid grid-cols-[112px_1fr] border-t border-line py-1">
      <dt className="text-ink2">{name}</dt>
      <dd>{lines.length === 0 ? "anything" : lines.join("; ")}</dd>
    </div>
  );
}
