/** The parcel itself, the centre of the Plan screen: at a slant, or cut from the side. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { cartonAt } from "../../drawings/cartons";
import { LayerView } from "../../drawings/LayerView";
import { Section } from "../../drawings/Section";

export function ParcelPicture({ parcel, at }: { parcel: Schemas["ShownParcel"]; at: number }) {
  const format = useFormat();
  const [cut, setCut] = useState(false);
  useActions([{ key: "s", label: "Cut view or slanted view", run: () => setCut((now) => !now) }]);
  const { candidate, layers } = parcel;
  const layer = layers[at];
  const carton = cartonAt<Schemas["Candidate"]>(candidate, layers, at);
  // A mailer is measured as it lies filled; so are two cartons strapped together.
  const soft = carton.drawn.kind === "mailer";
  const told = soft ? carton.drawn.outer : carton.drawn.inner;
  const names = Object.fromEntries(parcel.pieces.map((piece) => [piece.sku, piece.name]));
  return (
    <section className="flex min-w-0 flex-col px-5 pb-2 pt-3" aria-label="The parcel">
      <h2 className="truncate text-lead">
        {layer ? `Layer ${at + 1} of ${layers.length}: ${layer.title}` : candidate.name}
      </h2>
      <p className="text-small text-ink2">{layer?.detail}</p>
      <div className="relative min-h-[300px] grow">
        <div className="absolute inset-0">
          {cut ? (
            <div className="mx-auto max-w-[430px]">
              <Section
                parcel={carton.drawn}
                layers={carton.layers}
                at={carton.at}
                done={carton.at}
              />
            </div>
          ) : (
            <LayerView
              parcel={carton.drawn}
              layers={carton.layers}
              at={carton.at}
              names={names}
              dimensions={{
                length: `${format.length(told.length_um)} ${soft ? "outside" : "inside"}`,
                width: format.length(told.width_um),
                height: format.length(told.height_um),
              }}
            />
          )}
        </div>
      </div>
      <p className="mt-auto flex flex-wrap justify-between gap-x-5 text-small text-ink2">
        <span>
          <b className="text-ink">1</b> this layer{" "}
          <span className="mx-2">solid grey: in already</span> dashed: still to come
        </span>
        <span>
          <span className="keycap">↑</span> <span className="keycap">↓</span> layer{" "}
          <span className="keycap ml-2">S</span> {cut ? "slanted view" : "cut view"}
        </span>
      </p>
    </section>
  );
}
