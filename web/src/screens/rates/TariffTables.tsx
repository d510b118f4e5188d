/** A price list read as tables: zones, each service's prices zone by zone, what it adds, takes, covers and refuses. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { Mark } from "../../ui/parts";
import { daysWords, limitsOf, stepRows } from "./tables";
import { many } from "../../domain/words";

type File = Schemas["TariffFile"];
type Service = Schemas["ServiceDoc"];

export function TariffTables({
  file,
  packaging,
  conditions,
}: {
  file: File;
  conditions: Schemas["TariffOut"]["conditions"];
  packaging: Schemas["PackagingState"][];
}) {
  const [shown, setShown] = useState(0);
  const service = file.services[Math.min(shown, file.services.length - 1)];
  return (
    <>
      <div className="mt-2 flex flex-wrap gap-x-5" role="group" aria-label="Services">
        {file.services.map((one, index) => (
          <button
            key={one.code}
            type="button"
            aria-pressed={index === shown}
            onClick={() => setShown(index)}
            className={`min-h-9 border-b-2 ${index === shown ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
          >
            {one.name}
          </button>
        ))}
        <button
          type="button"
          aria-pressed={shown === file.services.length}
          onClick={() => setShown(file.services.length)}
          className={`min-h-9 border-b-2 ${shown === file.services.length ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
        >
          Zones and packaging
        </button>
      </div>
      {shown === file.services.length ? (
        <Zones file={file} packaging={packaging} />
      ) : service ? (
        <ServiceTables service={service} conditions={conditions[service.code] ?? {}} />
      ) : null}
    </>
  );
}

function ServiceTables({
  service,
  conditions,
}: {
  service: Service;
  conditions: Record<string, string>;
}) {
  const format = useFormat();
  const formats =
    service.formats && service.formats.length > 0
      ? service.formats
      : [{ code: "", name: "", limits: {} as Schemas["LimitsDoc"], zones: service.zones ?? [] }];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_330px] gap-x-8 max-xl:grid-cols-1">
      <div className="min-w-0">
        {formats.map((one) => {
          const rows = stepRows(one.zones);
          return (
            <table key={one.code} className="rule-table mt-2">
              <caption className="text-left font-head font-semibold">
                {one.name || "Prices by weight"}
                {one.name && limitsOf(one.limits, format).length > 0 ? (
                  <span className="ml-2 font-text font-normal text-small text-ink2">
                    {limitsOf(one.limits, format).join(", ")}
                  </span>
                ) : null}
              </caption>
              <thead>
                <tr>
                  <th scope="col">Up to</th>
                  {one.zones.map((zone) => (
                    <th key={zone.zone} scope="col" className="num">
                      Zone {zone.zone}
                      <span className="block font-normal">
                        {zone.transit_days} {zone.transit_days === 1 ? "day" : "days"}
                      </span>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.steps.map((row) => (
                  <tr key={row.up_to_mg}>
                    <td>{format.weight(row.up_to_mg)}</td>
                    {row.prices.map((price, at) => (
                      <td key={at} className="num">
                        {price === null ? "" : format.money(price)}
                      </td>
                    ))}
                  </tr>
                ))}
                {rows.increments ? (
                  <tr>
                    <td>
                      each {format.weight(rows.increments[0]?.each_mg ?? 0)} more, up to{" "}
                      {format.weight(rows.increments[0]?.max_mg ?? 0)}
                    </td>
                    {rows.increments.map((more, at) => (
                      <td key={at} className="num">
                        + {format.money(more.each)}
                      </td>
                    ))}
                  </tr>
                ) : null}
              </tbody>
            </table>
          );
        })}
      </div>
      <dl className="mt-2 text-small">
        <Part name="Takes" lines={limitsOf(service.limits, format)} />
        {service.volumetric ? (
          <Part
            name="Size counts"
            lines={[
              `L x W x H / ${format.divisor(service.volumetric.divisor_cm3_per_kg)}, sides ${service.volumetric.rounding === "nearest" ? "to the nearest" : "up to a whole"} ${format.length(service.volumetric.round_up_um ?? 10_000)}`,
              service.volumetric.above_cm3
                ? `above ${format.cubic(service.volumetric.above_cm3)}`
                : "always",
              ...(service.volumetric.zones && service.volumetric.zones.length > 0
                ? [`zones ${service.volumetric.zones.join(", ")}`]
                : []),
            ]}
          />
        ) : null}
        {(service.weight_round_mg ?? 1) > 1 ? (
          <Part
            name="Weight"
            lines={[
              `counted in ${format.weight(service.weight_round_mg ?? 1)}, ${service.weight_rounding === "nearest" ? "to the nearest" : "rounded up"}`,
            ]}
          />
        ) : null}
        {(service.surcharges ?? []).map((one) => (
          <Part
            key={one.code}
            name={one.name}
            lines={[
              `${one.kind === "percent" ? `${Number(one.amount)} %` : `+ ${format.money(one.amount)}`}: ${conditions[one.code] ?? ""}`,
            ]}
          />
        ))}
        <Part
          name="Cover"
          lines={[
            `${format.money(service.cover_included ?? 0)} included`,
            ...(service.extra_cover
              ? [
                  `${format.money(service.extra_cover.price)} for each ${format.money(service.extra_cover.each)} more, up to ${format.money(service.extra_cover.most)}`,
                ]
              : []),
            ...((service.cover_excludes ?? []).length > 0
              ? [`not for ${(service.cover_excludes ?? []).join(", ")} goods`]
              : []),
          ]}
        />
        {(service.refuses ?? []).length > 0 ? (
          <Part name="Refuses" lines={[`${(service.refuses ?? []).join(", ")} goods`]} />
        ) : null}
        <Part
          name="Moves"
          lines={[daysWords(service.days_moved), `cut-off ${service.cut_off.slice(0, 5)}`]}
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
        {Number(service.tax_percent ?? 0) > 0 ? (
          <Part name="Tax" lines={[`${Number(service.tax_percent)} % on all of it`]} />
        ) : null}
      </dl>
    </div>
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

function Zones({ file, packaging }: { file: File; packaging: Schemas["PackagingState"][] }) {
  const format = useFormat();
  const held = new Map(packaging.map((one) => [one.code, one.in_cupboard]));
  return (
    <>
      <table className="rule-table mt-2">
        <caption className="sr-only">Zones</caption>
        <thead>
          <tr>
            <th scope="col">Zone</th>
            <th scope="col">Country</th>
            <th scope="col">Postcodes</th>
            <th scope="col">Only from</th>
          </tr>
        </thead>
        <tbody>
          {file.zone_rules.map((rule, at) => (
            <tr key={at}>
              <td>
                <b>{rule.zone}</b>
              </td>
              <td>{rule.country}</td>
              <td>
                {[
                  ...(rule.prefixes ?? []).map((prefix) =>
                    prefix === "" ? "all others" : `${prefix}…`,
                  ),
                  ...(rule.ranges ?? []).map(([first, last]) => `${first} to ${last}`),
                ].join(", ")}
              </td>
              <td className="text-ink2">
                {rule.origin_country
                  ? `${rule.origin_country} ${(rule.origin_prefixes ?? []).join(", ")}`
                  : "anywhere"}
              </td>
            </tr>
          ))}
          {file.default_zone ? (
            <tr>
              <td>
                <b>{file.default_zone}</b>
              </td>
              <td colSpan={3}>everywhere else</td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {(file.packaging ?? []).length > 0 ? (
        <table className="rule-table mt-4">
          <caption className="text-left font-head font-semibold">Its own packaging</caption>
          <thead>
            <tr>
              <th scope="col">Code</th>
              <th scope="col">Name</th>
              <th scope="col">Inside</th>
              <th scope="col">Only with</th>
              <th scope="col">Flat rate</th>
              <th scope="col">In the cupboard</th>
            </tr>
          </thead>
          <tbody>
            {(file.packaging ?? []).map((item) => (
              <tr key={item.code}>
                <td>{item.code}</td>
                <td>{item.name}</td>
                <td>
                  {item.inner_um.map((um) => format.length(um).replace(/ .*/, "")).join(" x ")}
                </td>
                <td>{item.services.join(", ")}</td>
                <td>
                  {item.flat_rate
                    ? `${item.flat_rate.prices.map((one) => `${format.money(one.price)}${(one.zones ?? []).length > 0 ? ` zone ${(one.zones ?? []).join(", ")}` : ""}`).join(", ")}, up to ${format.weight(item.flat_rate.max_mg)}`
                    : "by weight"}
                </td>
                <td>
                  {held.get(item.code) ? (
                    "yes"
                  ) : (
                    <>
                      <Mark kind="mind" /> no supply {item.code}
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </>
  );
}
