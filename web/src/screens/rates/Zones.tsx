/** Where a price list goes: its zones by country and postcode, and the carrier's own packaging. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { dateWords } from "../../domain/words";
import { Table } from "../../ui/list/Table";
import { Mark } from "../../ui/parts";

type File = Schemas["TariffFile"];
type Item = NonNullable<File["packaging"]>[number];

export function Zones({ file, packaging }: { file: File; packaging: Schemas["PackagingState"][] }) {
  const format = useFormat();
  const held = new Map(packaging.map((one) => [one.code, one.in_cupboard]));
  return (
    <>
      <Table
        className="mt-2"
        caption="Zones"
        rows={zoneRows(file)}
        rowKey={(_, at) => at}
        columns={[
          { key: "zone", name: "Zone", cell: (row) => <b>{row.zone}</b> },
          { key: "country", name: "Country", cell: (row) => row.country },
          { key: "postcodes", name: "Postcodes", cell: (row) => row.postcodes },
          { key: "from", name: "Only from", className: "text-ink2", cell: (row) => row.from },
        ]}
      />
      {(file.holidays ?? []).length > 0 ? (
        <p className="mt-2 text-ink2">
          Nothing moves on {(file.holidays ?? []).map(dateWords).join(", ")}.
        </p>
      ) : null}
      {(file.packaging ?? []).length > 0 ? (
        <>
          <h3 className="mt-4 text-base">Its own packaging</h3>
          <Table
            caption="Its own packaging"
            rows={file.packaging ?? []}
            rowKey={(item) => item.code}
            columns={[
              { key: "code", name: "Code", cell: (item) => item.code },
              { key: "name", name: "Name", cell: (item) => item.name },
              {
                key: "inside",
                name: "Inside",
                cell: ({ inner_um: [length_um = 0, width_um = 0, height_um = 0] }) =>
                  format.size({ length_um, width_um, height_um }),
              },
              { key: "services", name: "Only with", cell: (item) => item.services.join(", ") },
              { key: "flat", name: "Flat rate", cell: (item) => flatWords(item, format) },
              {
                key: "held",
                name: "In the cupboard",
                cell: (item) =>
                  held.get(item.code) ? (
                    "yes"
                  ) : (
                    <>
                      <Mark kind="mind" /> no supply {item.code}
                    </>
                  ),
              },
            ]}
          />
        </>
      ) : null}
    </>
  );
}

function zoneRows(file: File) {
  const own = file.services.flatMap((service) =>
    (service.zone_rules ?? []).map((rule) => ({ ...rule, of: service.name })),
  );
  const rules = [...file.zone_rules.map((rule) => ({ ...rule, of: "" })), ...own].map((rule) => ({
    zone: rule.of ? `${rule.zone}, ${rule.of}` : rule.zone,
    country: rule.country,
    postcodes: [
      ...(rule.prefixes ?? []).map((prefix) => (prefix === "" ? "all others" : `${prefix}…`)),
      ...(rule.ranges ?? []).map(([first, last]) => `${first} to ${last}`),
    ].join(", "),
    from: rule.origin_country
      ? `${rule.origin_country} ${(rule.origin_prefixes ?? []).join(", ")}`
      : "anywhere",
  }));
  return file.default_zone
    ? [
        ...rules,
        { zone: file.default_zone, country: "everywhere else", postcodes: "", from: "anywhere" },
      ]
    : rules;
}

function flatWords(item: Item, format: ReturnType<typeof useFormat>): string {
  if (!item.flat_rate) return "by weight";
  const prices = item.flat_rate.prices.map((one) => {
    const zones = one.zones ?? [];
    return `${format.money(one.price)}${zones.length > 0 ? ` zone ${zones.join(", ")}` : ""}`;
  });
  return `${prices.join(", ")}, up to ${format.weight(item.flat_rate.max_mg)}`;
}
