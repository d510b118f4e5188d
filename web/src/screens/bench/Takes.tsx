/** What to take and from where: the place on the shelf first, as it is written there. */
import type { Schemas } from "../../api/client";
import { SpoilPack } from "./SpoilPack";

export function Takes({
  parcel,
  step,
}: {
  parcel: Schemas["ParcelOut"];
  step: Schemas["BenchStep"];
}) {
  if (step.takes.length === 0) return null;
  const refs = new Map(parcel.supplies.map((ref) => [ref.code, ref]));
  return (
    <>
      <ul className="mt-5 max-w-3xl text-bench" aria-label="Take">
        {step.takes.map((take, index) => {
          const ref = refs.get(take.code);
          const place = ref?.place ?? parcel.goods_places[take.code] ?? "";
          return (
            <li
              key={take.code + index}
              className="flex items-baseline gap-4 border-t border-line py-2"
            >
              <span className="grid h-9 min-w-12 shrink-0 place-items-center self-center rounded-part border border-ink px-1.5 font-semibold">
                {place || "?"}
              </span>
              {step.kind === "check" && parcel.photos[take.code] !== undefined ? (
                <img
                  src={`/api/products/${parcel.photos[take.code] ?? 0}/photo`}
                  alt={`How ${take.name} should look`}
                  className="max-h-28 rounded-part border border-line"
                />
              ) : null}
              <span className="grow">
                {take.name}
                {take.role === "wrap" || take.role === "fill" || take.role === "inner fill" ? (
                  <span className="block text-lead text-ink2">{take.detail}</span>
                ) : null}
              </span>
              <span className="shrink-0 font-semibold">{take.amount}</span>
            </li>
          );
        })}
      </ul>
      <SpoilPack parcel={parcel} step={step} />
    </>
  );
}
