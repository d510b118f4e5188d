/** A price list in words and rows. No React. */
import { SHORT_WEEKDAYS } from "../../domain/words";
import type { Schemas } from "../../api/client";

interface Format {
  length: (um: number) => string;
  weight: (mg: number) => string;
  cubic: (cm3: number) => string;
  divisor: (cm3PerKg: number) => string;
  money: (amount: string | number) => string;
}

type Service = Schemas["ServiceDoc"];
type Volumetric = Schemas["VolumetricDoc"];

type Table = Schemas["ZoneTableDoc"];

/** Steps of all zones in one table: a row for each weight any zone has a step at; increments below. */
export function stepRows(zones: readonly Table[]): {
  steps: { up_to_mg: number; prices: (string | null)[] }[];
  increments: Schemas["IncrementDoc"][] | null;
} {
  const increments = zones.map((zone) => zone.increment ?? null);
  if (increments.length > 0 && increments.every((one) => one !== null)) {
    const all = increments as Schemas["IncrementDoc"][];
    const firsts = [...new Set(all.map((one) => one.first_mg))];
    return {
      steps: firsts.map((mg) => ({
        up_to_mg: mg,
        prices: all.map((one) => (one.first_mg === mg ? String(one.base) : null)),
      })),
      increments: all,
    };
  }
  const weights = [
    ...new Set(zones.flatMap((zone) => (zone.steps ?? []).map((step) => step.up_to_mg))),
  ].sort((a, b) => a - b);
  return {
    steps: weights.map((mg) => ({
      up_to_mg: mg,
      prices: zones.map((zone) => {
        const step = (zone.steps ?? []).find((one) => one.up_to_mg === mg);
        return step ? String(step.price) : null;
      }),
    })),
    increments: null,
  };
}

export function limitsOf(
  limits: Schemas["LimitsDoc"],
  format: Pick<Format, "length" | "weight" | "cubic">,
): string[] {
  const lengths: [string, number | null | undefined][] = [
    ["longest side", limits.longest_um],
    ["second side", limits.second_um],
    ["thickness", limits.thickness_um],
    ["girth", limits.girth_um],
    ["length plus girth", limits.length_plus_girth_um],
    ["sum of sides", limits.sum_of_sides_um],
    ["longest side from", limits.longest_min_um],
    ["second side from", limits.second_min_um],
    ["thickness from", limits.thickness_min_um],
  ];
  return [
    ...lengths.flatMap(([name, um]) => (um ? [`${name} ${format.length(um)}`] : [])),
    ...(limits.volume_cm3 ? [format.cubic(limits.volume_cm3)] : []),
    ...(limits.min_mg ? [`from ${format.weight(limits.min_mg)}`] : []),
    ...(limits.max_mg ? [`up to ${format.weight(limits.max_mg)}`] : []),
  ];
}

/** [0, 1, 2, 3, 4] -> "Mon to Fri"; [0, 2, 4] -> "Mon, Wed, Fri". */
export function daysWords(days: readonly number[]): string {
  const sorted = [...new Set(days)].sort((a, b) => a - b);
  const [first, last] = [sorted[0], sorted[sorted.length - 1]];
  if (
    first !== undefined &&
    last !== undefined &&
    sorted.length > 2 &&
    last - first === sorted.length - 1
  )
    return `${SHORT_WEEKDAYS[first]} to ${SHORT_WEEKDAYS[last]}`;
  return sorted.map((day) => SHORT_WEEKDAYS[day]).join(", ");
}

/** How size becomes weight: one rule, or several for other zones and classes. */
export function volumetricOf(service: Service): readonly Volumetric[] {
  if (!service.volumetric) return [];
  return Array.isArray(service.volumetric) ? service.volumetric : [service.volumetric];
}

export function volumetricWords(one: Volumetric, format: Format): string {
  return [
    `L x W x H / ${format.divisor(one.divisor_cm3_per_kg)}, sides ${one.rounding === "nearest" ? "to the nearest" : "up to a whole"} ${format.length(one.round_up_um ?? 10_000)}`,
    one.above_cm3 ? `above ${format.cubic(one.above_cm3)}` : "always",
    ...((one.zones ?? []).length > 0 ? [`zones ${(one.zones ?? []).join(", ")}`] : []),
    ...((one.formats ?? []).length > 0 ? [`classes ${(one.formats ?? []).join(", ")}`] : []),
  ].join("; ");
}

export function surchargeWords(
  one: Schemas["SurchargeDoc"],
  condition: string,
  format: Format,
): string {
  const amount =
    one.kind === "percent"
      ? `${Number(one.amount)} % ${one.of === "base" ? "of the base" : ""}`.trim()
      : one.kind === "per_weight"
        ? `+ ${format.money(one.amount)} for each begun ${format.weight(one.each_mg ?? 1_000_000)}`
        : `+ ${format.money(one.amount)}`;
  return [
    `${amount}: ${condition}`,
    ...(one.least ? [`at least ${format.money(one.least)}`] : []),
    ...(one.most ? [`at most ${format.money(one.most)}`] : []),
    ...(one.group ? [`only the highest of ${one.group}`] : []),
    ...(one.tax_percent === null || one.tax_percent === undefined
      ? []
      : [`taxed ${Number(one.tax_percent)} %`]),
  ].join("; ");
}

export function coverWords(service: Service, format: Format): string[] {
  const extra = service.extra_cover;
  const more = !extra
    ? []
    : (extra.tiers ?? []).length > 0
      ? (extra.tiers ?? []).map(
          (tier) => `up to ${format.money(tier.up_to)} for ${format.money(tier.price)}`,
        )
      : extra.percent
        ? [
            `${Number(extra.percent)} % of ${extra.of === "excess" ? "what is above" : "the value"}${Number(extra.least ?? 0) > 0 ? `, at least ${format.money(extra.least ?? 0)}` : ""}, up to ${format.money(extra.most)}`,
          ]
        : [
            `${format.money(extra.price ?? 0)} for each ${format.money(extra.each ?? 0)} more, up to ${format.money(extra.most)}`,
          ];
  return [
    `${format.money(service.cover_included ?? 0)} included`,
    ...more,
    ...((service.cover_excludes ?? []).length > 0
      ? [`not for ${(service.cover_excludes ?? []).join(", ")}`]
      : []),
  ];
}

/** What is taken off, taxed and rounded. */
export function sumWords(service: Service, format: Format): [string, string[]][] {
  const { discount, further, round_total: total } = service;
  const taxes = (service.taxes ?? []).map(
    (one) =>
      `${Number(one.percent)} % to ${[...(one.countries ?? []), ...(one.zones ?? []).map((zone) => `zone ${zone}`)].join(", ")}`,
  );
  const usual = Number(service.tax_percent ?? 0);
  return [
    [
      "Discount",
      discount
        ? [`${Number(discount.percent)} % of ${discount.of === "all" ? "all" : "the base"}`]
        : [],
    ],
    [
      "Further parcels",
      further
        ? [
            `${Number(further.percent ?? 100)} % of the base${Number(further.off ?? 0) > 0 ? `, less ${format.money(further.off ?? 0)}` : ""}`,
          ]
        : [],
    ],
    [
      "Tax",
      usual > 0 || taxes.length > 0
        ? [...taxes, `${usual} %${taxes.length > 0 ? " to all others" : " on all of it"}`]
        : [],
    ],
    [
      "Rounding",
      total
        ? [
            `the sum ${{ up: "up to a multiple of", nearest: "to the nearest", down: "down to a multiple of" }[total.rounding ?? "nearest"]} ${format.money(total.to)}`,
          ]
        : [],
    ],
  ];
}
