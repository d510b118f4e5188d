/** One supply: how it goes on, who offers it, where it is used, what it costs a parcel; making it out of others. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { outlook } from "../../api/buying";
import { supplies } from "../../api/cupboard";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import type { StockUnit } from "../../domain/units";
import { dayWords, many } from "../../domain/words";
import { Outlook } from "../../drawings/Outlook";
import { Button, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Figures } from "../../ui/Figures";
import { TryOnOrders } from "../../ui/TryOnOrders";
import { placeOf, type Supply } from "../cupboard/supply";
import { CupboardTabs } from "../cupboard/Tabs";
import { ConvertSheet } from "./ConvertSheet";
import { OfferSheet } from "./OfferSheet";
import { PlaceSheet } from "./PlaceSheet";
import { SpoilSheet } from "./SpoilSheet";
import { eachCost, inShown, measured, shownOutlook } from "./shown";

type Page = Schemas["OutlookOut"];
type Open = "convert" | "spoil" | "place" | { offer: number | null } | null;

export function SupplyScreen() {
  const id = Number(useParams().supplyId);
  const page = useQuery(outlook(id));
  const all = useQuery(supplies());
  const format = useFormat();
  const navigate = useNavigate();
  const owner = useSession().role === "owner";
  const [open, setOpen] = useState<Open>(null);
  useActions([
    {
      key: "p",
      label: "Receive, count, ledger",
      run: () => void navigate(`/cupboard?supply=${id}`),
    },
    { key: "m", label: "Make another supply from it", run: () => setOpen("convert") },
    { key: "s", label: "Take out what is spoiled", run: () => setOpen("spoil") },
    { key: "l", label: "Its slot and what follows it", run: () => setOpen("place"), off: !owner },
    { key: "o", label: "Add an offer", run: () => setOpen({ offer: null }), off: !owner },
    { key: "escape", label: "Back to the shelves", run: () => void navigate("/cupboard") },
  ]);
  if (page.isError)
    return (
      <div className="p-6">
        <ProblemNote error={page.error} />
      </div>
    );
  const supply = all.data?.results.find((one) => one.id === id);
  if (!page.data || page.data.supply_id !== id || !all.data) return <Waiting what="the supply" />;
  if (!supply)
    return (
      <div className="p-6">
        This supply is not in use any more.{" "}
        <Link className="text-action underline" to="/cupboard">
          Back to the shelves
        </Link>
      </div>
    );
  const data = page.data;
  return (
    <>
      <CupboardTabs />
      <ScreenHead
        title={`${supply.name}: ${lasts(data)}`}
        under={<Stands supply={supply} page={data} />}
      >
        <Button hotkey="P" onClick={() => void navigate(`/cupboard?supply=${id}`)}>
          Receive, count, ledger
        </Button>
        <Button hotkey="M" onClick={() => setOpen("convert")}>
          Make from it
        </Button>
        <Button hotkey="S" onClick={() => setOpen("spoil")}>
          Spoiled
        </Button>
      </ScreenHead>
      <div className="grid grid-cols-[minmax(0,1fr)_440px] border-t border-line max-lg:grid-cols-1">
        <div className="min-w-0 bg-sheet px-6 py-4">
          <Outlook
            shown={shownOutlook(data, undefined, format.inStock(1, supply.unit))}
            amount={inShown(format, supply.unit)}
          />
          <Arrivals page={data} unit={supply.unit} />
          <Offers
            page={data}
            unit={supply.unit}
            owner={owner}
            onOffer={(offer) => setOpen({ offer })}
          />
        </div>
        <aside className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t">
          <WorkedOutFrom
            page={data}
            supply={supply}
            onPlace={owner ? () => setOpen("place") : undefined}
          />
          <Used page={data} />
          <div className="mt-4 flex flex-col">
            {supply.kind === "carton" || supply.kind === "mailer" ? (
              <TryOnOrders change={{ kind: "without", code: supply.code }}>
                What if it were gone
              </TryOnOrders>
            ) : null}
            <TryOnOrders change={{ kind: "supply_price", code: supply.code }}>
              What if it cost another price
            </TryOnOrders>
          </div>
        </aside>
      </div>
      {open === "convert" ? (
        <ConvertSheet supply={supply} all={all.data.results} onClose={() => setOpen(null)} />
      ) : null}
      {open === "spoil" ? <SpoilSheet supply={supply} onClose={() => setOpen(null)} /> : null}
      {open === "place" ? (
        <PlaceSheet
          supply={supply}
          page={data}
          all={all.data.results}
          onClose={() => setOpen(null)}
        />
      ) : null}
      {open !== null && typeof open === "object" ? (
        <OfferSheet
          supply={supply}
          page={data}
          supplierId={open.offer}
          onClose={() => setOpen(null)}
        />
      ) : null}
    </>
  );
}

function lasts(page: Page): string {
  if (page.runs_out === null) return "lasts longer than you buy for";
  return `${many(page.cover_days ?? 0, "working day")} left, gone ${dayWords(page.runs_out)}`;
}

function Stands({ supply, page }: { supply: Supply; page: Page }) {
  const format = useFormat();
  const parts = [
    `${supply.code}, place ${placeOf(supply)}`,
    `${format.quantity(supply.on_hand, supply.unit)} on hand, ${format.quantity(supply.reserved, supply.unit)} reserved`,
    page.cover_orders === null
      ? ""
      : `enough for ${many(page.cover_orders, "parcel")} like the last`,
  ];
  return <>{parts.filter(Boolean).join("; ")}</>;
}

function Arrivals({ page, unit }: { page: Page; unit: Supply["unit"] }) {
  const format = useFormat();
  if (page.arrivals.length === 0) return null;
  return (
    <section className="mt-4">
      <h2 className="border-b border-line2 pb-1 text-lead">On its way</h2>
      <ul>
        {page.arrivals.map((one) => (
          <li
            key={`${one.purchase_id} ${one.quantity}`}
            className="flex justify-between border-b border-line py-1.5"
          >
            <span>
              <Link className="text-action underline" to={`/purchases?open=${one.purchase_id}`}>
                P-{one.number}
              </Link>{" "}
              from {one.supplier}, {dayWords(one.day)}
              {one.overdue ? (
                <b className="text-stop">
                  {" "}
                  <Mark kind="stop" /> late
                </b>
              ) : null}
            </span>
            <b>{format.quantity(one.quantity, unit)}</b>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Offers({
  page,
  unit,
  owner,
  onOffer,
}: {
  page: Page;
  unit: StockUnit;
  owner: boolean;
  onOffer: (supplier: number | null) => void;
}) {
  const format = useFormat();
  const amountOf = measured(format, unit);
  return (
    <section className="mt-5">
      <h2 className="flex items-baseline justify-between border-b border-line2 pb-1 text-lead">
        <span>{page.offers.length === 0 ? "Nobody offers it yet" : "Who offers it"}</span>
        {owner ? (
          <button
            type="button"
            className="min-h-9 font-text text-small font-normal text-action underline"
            onClick={() => onOffer(null)}
          >
            add an offer <span className="keycap no-underline">O</span>
          </button>
        ) : null}
      </h2>
      {page.offers.length === 0 ? null : (
        <table className="rule-table">
          <thead>
            <tr>
              <th>Supplier</th>
              <th>Comes as</th>
              <th>Prices</th>
              <th>Ordered today</th>
              <th className="num">A year</th>
            </tr>
          </thead>
          <tbody>
            {page.offers.map((offer) => {
              const taken = offer.amounts.find((one) => one.taken);
              return (
                <tr key={offer.supplier_id} className={offer.best ? "bg-soft" : ""}>
                  <td>
                    {owner ? (
                      <button
                        type="button"
                        className="min-h-9 font-semibold text-action hover:underline"
                        onClick={() => onOffer(offer.supplier_id)}
                      >
                        {offer.supplier}
                      </button>
                    ) : (
                      <b>{offer.supplier}</b>
                    )}
                    {offer.best ? <span className="block text-small">would be taken</span> : null}
                  </td>
                  <td>
                    {offer.pack_name || amountOf(offer.pack)}
                    {Number(offer.least) > 0 ? (
                      <span className="block text-small text-ink2">
                        at least {amountOf(offer.least)}
                      </span>
                    ) : null}
                  </td>
                  <td>
                    {offer.prices.map((one) => (
                      <span key={one.quantity} className="block">
                        {Number(one.quantity) > 0 ? `from ${amountOf(one.quantity ?? 0)} ` : ""}
                        {eachCost(format, unit)(one.price ?? 0)}
                      </span>
                    ))}
                  </td>
                  <td>
                    {taken ? `${amountOf(taken.quantity)}, ` : ""}here {dayWords(offer.arrives_on)}
                    {offer.too_late ? (
                      <span className="block text-stop">
                        <Mark kind="stop" /> after it is gone
                      </span>
                    ) : null}
                  </td>
                  <td className="num">
                    {taken?.yearly_cost ? format.money(taken.yearly_cost) : "not used"}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
}

function WorkedOutFrom({
  page,
  supply,
  onPlace,
}: {
  page: Page;
  supply: Supply;
  onPlace: (() => void) | undefined;
}) {
  const format = useFormat();
  const amountOf = measured(format, supply.unit);
  const rows: [string, string][] = [
    ["Used a working day", format.quantity(page.per_day, supply.unit)],
    ["Give or take", `${amountOf(page.sd)}, of ${many(page.weeks, "week")}`],
    ["One parcel draws", format.quantity(page.each_parcel, supply.unit)],
    ["and that costs", format.exactMoney(page.each_parcel_cost)],
    ["Safety stock", page.safety === null ? "no offer" : amountOf(page.safety)],
    ["Order when down to", page.point === null ? "no offer" : amountOf(page.point)],
    ["Order by", page.order_by === null ? "not soon" : dayWords(page.order_by)],
    ["Its slot takes", page.room === null ? "not known" : amountOf(page.room)],
    ["Average cost", format.unitCost(supply.average_cost, supply.unit)],
  ];
  return (
    <section>
      <h2 className="text-lead">What it is worked out from</h2>
      <Figures rows={rows} />
      {page.followed.length > 0 ? (
        <p className="mt-2 text-small">
          <Mark kind="mind" /> {page.followed.join(", ")} is to be used up before it.
        </p>
      ) : null}
      {onPlace ? (
        <button
          type="button"
          className="mt-1 min-h-9 text-small text-action underline"
          onClick={onPlace}
        >
          Its slot, and what takes its place once it is used up{" "}
          <span className="keycap no-underline">L</span>
        </button>
      ) : null}
    </section>
  );
}

function Used({ page }: { page: Page }) {
  const format = useFormat();
  const dearer = new Map(page.dearer.map((one) => [one.recipe_id, one]));
  return (
    <section className="mt-5">
      <h2 className="border-b border-line2 pb-1 text-lead">
        {page.recipes.length === 0
          ? "No recipe names it"
          : `In ${many(page.recipes.length, "recipe")}`}
      </h2>
      {page.recipes.length > 0 ? (
        <p className="py-1 text-small text-ink2">
          What a parcel costs more when it costs a tenth more:
        </p>
      ) : null}
      <ul>
        {page.recipes.map((recipe) => {
          const one = dearer.get(recipe.id);
          return (
            <li key={recipe.id} className="flex justify-between border-b border-line py-1.5">
              <Link className="text-action hover:underline" to={`/recipes/${recipe.id}`}>
                {recipe.name}
              </Link>
              <span className={one?.more ? "" : "text-ink2"}>
                {one?.more ? `+${format.exactMoney(one.more)}` : "none packed lately"}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
