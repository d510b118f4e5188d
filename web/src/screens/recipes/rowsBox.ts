/** Rows of the container: inner and outer, cushions, fills, what holds the goods still. No DOM. */
import { SCHOOL_WORDS } from "../../domain/words";
import { NONE, whole, YES_NO, yes, type Band, type Row, type RowMaker } from "./rows";

const GROUP = "In the container";

export function boxRows(make: RowMaker): Row[] {
  const { doc } = make;
  const inside = doc.bands.find((band) => band.inner)?.inner?.container;
  const rows: Row[] = [
    {
      key: "inner",
      group: GROUP,
      place: make.place(inside),
      label: "Inner carton, floating",
      fine: !inside,
      options: make.choices(["carton"], true),
      cell: (band) => ({ text: band.inner?.container ?? NONE, raw: band.inner?.container ?? NONE }),
      set: (band, text) => ({
        ...band,
        inner:
          text === NONE
            ? null
            : { container: text, clearance_um: band.inner?.clearance_um ?? 25_000 },
      }),
    },
    {
      ...make.length(
        "inner-clear",
        GROUP,
        "Air round the inner carton",
        "",
        (band) => band.inner?.clearance_um ?? 25_000,
        (band, um) => (band.inner ? { ...band, inner: { ...band.inner, clearance_um: um } } : band),
        true,
      ),
    },
    {
      key: "outer",
      group: GROUP,
      place: "A",
      label: "Container",
      options: make.choices(["carton", "mailer"]),
      cell: (band) => ({
        text:
          band.outers.join(", ") +
          (band.any_outer ? (band.outers.length > 0 ? ", or any" : "any that fits") : ""),
        raw: band.outers[0] ?? "",
      }),
      set: (band, text) => ({
        ...band,
        outers: [text, ...band.outers.filter((code, at) => at > 0 && code !== text)],
      }),
    },
    {
      key: "outer-second",
      group: GROUP,
      place: "",
      label: "Else this container",
      fine: true,
      options: make.choices(["carton", "mailer"], true),
      cell: (band) => ({ text: band.outers[1] ?? NONE, raw: band.outers[1] ?? NONE }),
      set: (band, text) => ({
        ...band,
        outers: [
          ...band.outers.slice(0, 1),
          ...(text === NONE || text === band.outers[0] ? [] : [text]),
        ],
      }),
    },
    {
      key: "any-outer",
      group: GROUP,
      place: "",
      label: "Or any that fits",
      fine: true,
      options: YES_NO,
      cell: (band) => yes(band.any_outer),
      set: (band, text) => ({ ...band, any_outer: text === "yes" }),
    },
  ];
  const fillAt = make.place(doc.bands.find((band) => band.fill)?.fill);
  const cushion = (band: Band, change: Partial<Band["cushion"]>): Band => ({
    ...band,
    cushion: { ...band.cushion, ...change },
  });
  rows.push(
    make.length(
      "bottom",
      GROUP,
      "Cushion below",
      fillAt,
      (band) => band.cushion.bottom_um,
      (band, um) => cushion(band, { bottom_um: um }),
    ),
  );
  rows.push(
    make.length(
      "side",
      GROUP,
      "Cushion at the sides",
      fillAt,
      (band) => band.cushion.side_um,
      (band, um) => cushion(band, { side_um: um }),
    ),
  );
  rows.push(
    make.length(
      "top",
      GROUP,
      "Cushion on top",
      fillAt,
      (band) => band.cushion.top_um,
      (band, um) => cushion(band, { top_um: um }),
    ),
  );
  const fills = make.choices(["fill"], true);
  const fill = (key: "fill" | "fill_below" | "fill_above", label: string, usual: string): Row => ({
    key,
    group: GROUP,
    place: key === "fill" ? fillAt : make.place(doc.bands.find((band) => band[key])?.[key]),
    label,
    options: fills,
    fine: key !== "fill" && !doc.bands.some((band) => band[key]),
    cell: (band) => ({ text: band[key] ? make.named(band[key]) : usual, raw: band[key] ?? NONE }),
    set: (band, text) => ({ ...band, [key]: text === NONE ? null : text }),
  });
  rows.push(
    fill("fill", "Fill", NONE),
    fill("fill_below", "Other fill below", "the same"),
    fill("fill_above", "Other fill on top", "the same"),
  );
  rows.push({
    key: "school",
    group: GROUP,
    place: "",
    label: "What holds it still",
    options: Object.entries(SCHOOL_WORDS).map(([value, text]) => ({ value, text })),
    cell: (band) => ({ text: SCHOOL_WORDS[band.school] ?? band.school, raw: band.school }),
    set: (band, text) => ({ ...band, school: text as Band["school"] }),
  });
  rows.push({
    key: "proud",
    group: GROUP,
    place: "",
    label: "Overfilled, %",
    fine: true,
    cell: (band) => ({ text: `${band.proud_percent} %`, raw: String(band.proud_percent) }),
    set: (band, text) => {
      const percent = whole(text.replace("%", ""), 0, 50);
      return percent === null ? "0 to 50 percent" : { ...band, proud_percent: percent };
    },
  });
  return rows;
}
