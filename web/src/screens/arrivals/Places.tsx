/** The outline of the parcel with its breakages, and each place's share with its interval. */
import type { Schemas } from "../../api/client";
import { Outline } from "../../drawings/Outline";
import { Whisker } from "../../drawings/Whisker";
import { many } from "../../domain/words";
import { sides } from "./shown";

type Run = Schemas["RunOut"];
type PlaceRow = Run["where"]["places"][number];

const SHOWN = 5;
const WIDE = 200;

export function Places({
  outer,
  run,
}: {
  outer: Schemas["RecipeDamageOut"]["outer_um"];
  run: Run;
}) {
  const { where } = run;
  const rows = shown(where.places);
  return (
    <>
      <h2 className="text-lead">Where they broke</h2>
      <div className="grid grid-cols-[minmax(260px,1fr)_210px] gap-4 max-md:grid-cols-1">
        <Outline
          outer={sides(outer)}
          broken={where.places.flatMap((place) => spotsOf(place))}
          leading={where.leading}
        />
        <div>
          <p className="text-small text-ink2">
            {where.placed === 0
              ? "No breakage with a place yet"
              : `Share of ${many(where.placed, "breakage")}`}
          </p>
          {rows.map((row) => {
            const leads = row.place === where.leading;
            return (
              <div key={row.place} className="mt-1.5">
                <p className={`flex justify-between ${leads ? "font-semibold text-action" : ""}`}>
                  {row.words}
                  <b>{row.count}</b>
                </p>
                <Whisker
                  share={where.placed > 0 ? row.count / where.placed : null}
                  low={Number(row.low)}
                  high={Number(row.high)}
                  top={1}
                  width={WIDE}
                  tone={leads ? "action" : "ink"}
                  label={`${String(row.words)}: ${row.count} of ${where.placed}`}
                />
              </div>
            );
          })}
          {where.placed > 0 ? (
            <p className="flex w-[200px] justify-between text-tiny text-ink2" aria-hidden="true">
              <span>0</span>
              <span>half</span>
              <span>all</span>
            </p>
          ) : null}
          {where.spoiled > 0 ? (
            <p className="mt-2">Spoiled by heat or cold: {where.spoiled}</p>
          ) : null}
          {where.broken > where.placed ? (
            <p className="mt-1 text-small text-ink2">
              {many(where.broken - where.placed, "breakage")} without a place
            </p>
          ) : null}
        </div>
      </div>
    </>
  );
}

/** The places with breakages, and as many others as there is room for. */
const shown = (places: readonly PlaceRow[]) => {
  const hit = places.filter((one) => one.count > 0);
  return [...hit, ...places.filter((one) => one.count === 0)].slice(0, Math.max(SHOWN, hit.length));
};

/** Breakages whose edge or corner nobody said stand at the place as a whole. */
function spotsOf(place: PlaceRow) {
  const told = place.spots.reduce((sum, one) => sum + one.count, 0);
  return [
    ...place.spots.map((one) => ({ place: place.place, spot: one.spot, count: one.count })),
    ...(place.count > told ? [{ place: place.place, spot: "", count: place.count - told }] : []),
  ];
}
