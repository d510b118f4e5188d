/** Other ways to send it, with their differences; and what was ruled out, by which limit. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { wayName } from "../../domain/words";
import { Table, type Column } from "../../ui/list/Table";

type Way = Schemas["WayView"];

interface Props {
  ways: Way[];
  ruledOut: Schemas["RuledOutView"][];
  shown: number;
  onShow: (n: number) => void;
  onUse: ((container: string) => void) | undefined;
}

export function Alternatives({ ways, ruledOut, shown, onShow, onUse }: Props) {
  const [open, setOpen] = useState(false);
  const others = new Set(ruledOut.map((one) => one.container)).size; // of several parcels each may rule the same one out
  return (
    <section className="px-6 pb-8 pt-3">
      <div className="flex items-baseline justify-between">
        <h2 className="text-[15px] text-ink2">
          {ways.length > 1
            ? "Other ways to send it"
            : "The only way to send it with these supplies"}
        </h2>
        {ruledOut.length > 0 ? (
          <button
            type="button"
            aria-expanded={open}
            className="text-action underline"
            onClick={() => setOpen(!open)}
          >
            {open ? "Hide" : "Why not"} the other {others}{" "}
            {others === 1 ? "container" : "containers"}
          </button>
        ) : null}
      </div>
      <WaysTable ways={ways} shown={shown} onShow={onShow} onUse={onUse} />
      {open ? (
        <ul className="mt-3 columns-2 gap-8 max-lg:columns-1">
          {ruledOut.map((one) => (
            <li key={one.reason} className="mb-1.5 break-inside-avoid">
              {one.reason}{" "}
              <span className="text-small text-ink2">{one.proven ? "" : "(not proven)"}</span>
            </li>
          ))}
        </ul>
      ) : null}
    </section>
  );
}

function WaysTable({ ways, shown, onShow, onUse }: Omit<Props, "ruledOut">) {
  const format = useFormat();
  const money = (key: string, name: string, of: (way: Way) => string): Column<Way> => ({
    key,
    name,
    num: true,
    cell: (way) => format.money(of(way)),
  });
  return (
    <Table
      caption="Ways to send it"
      opens
      rows={ways}
      rowKey={(way) => way.key}
      picked={(_, index) => index === shown}
      columns={[
        {
          key: "container",
          name: "Container",
          cell: (way, index) => (
            <NameOf way={way} here={index === shown} onShow={() => onShow(index)} />
          ),
        },
        {
          key: "outside",
          name: "Outside",
          num: true,
          cell: (way) =>
            sizes(way).map((size, at) => (
              <span key={at} className="block">
                {typeof size === "string" ? size : format.size(size)}
              </span>
            )),
        },
        {
          key: "gross",
          name: "Gross",
          num: true,
          cell: (way) =>
            format.weight(way.parcels.reduce((sum, one) => sum + one.candidate.weight.gross_mg, 0)),
        },
        money("materials", "Materials", (way) => way.costs.materials),
        { key: "minutes", name: "Minutes", num: true, cell: (way) => Number(way.minutes) },
        money("postage", "Postage", (way) => way.costs.postage),
        money("loss", "Loss", (way) => way.costs.expected_loss),
        money("total", "Total", (way) => way.costs.total),
        {
          key: "difference",
          name: "Compared with the chosen one",
          className: "pl-5!",
          cell: (way, index) => (
            <>
              {way.chosen
                ? "chosen"
                : `${format.signed(way.difference)}${way.in_recipe ? "" : ", not in the recipe"}`}
              {!way.chosen && index === shown && onUse ? (
                <button
                  type="button"
                  className="ml-3 text-action underline"
                  onClick={() => onUse(way.key)}
                >
                  use it <span className="keycap">U</span>
                </button>
              ) : null}
            </>
          ),
        },
      ]}
    />
  );
}

function NameOf({ way, here, onShow }: { way: Way; here: boolean; onShow: () => void }) {
  const format = useFormat();
  return (
    <>
      <button
        type="button"
        aria-pressed={here}
        className={`text-left text-action hover:underline ${way.chosen ? "font-semibold" : ""}`}
        onClick={onShow}
      >
        {wayName(way, format.length)}
      </button>{" "}
      {way.parcels.length === 1 && !way.parcels[0]?.candidate.strapped ? (
        <span className="text-small text-ink2">{way.parcels[0]?.candidate.name}</span>
      ) : null}
    </>
  );
}

/** Outside of each parcel; of many, the first two. */
function sizes(way: Way): (Schemas["Size"] | string)[] {
  const all = way.parcels.map((one) => one.candidate.outer_bulged);
  return all.length <= 3 ? all : [...all.slice(0, 2), `and ${all.length - 2} more`];
}
