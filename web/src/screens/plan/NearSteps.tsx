/** How near the steps are: the next cheaper one, and how likely the true weight or size passes the one above. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { planAdvice } from "../../api/orders";
import { percent } from "../../domain/figures";
import { useFormat } from "../../app/session";
import { Mark } from "../../ui/parts";
import { addressOf } from "../rates/question";

interface Props {
  order: Schemas["OrderOut"];
  wayKey: string;
  number: number;
  parcel: Schemas["ShownParcel"];
  editable: boolean;
}

export function NearSteps({ order, wayKey, number, parcel, editable }: Props) {
  const format = useFormat();
  const found = useQuery({ ...planAdvice(order.id), enabled: editable });
  const steps = found.data?.ways.find((way) => way.key === wayKey)?.parcels[number];
  const say = (measure: string, value: number) =>
    measure === "weight"
      ? format.weight(value)
      : measure === "volume"
        ? format.cubic(value)
        : format.length(value);
  const size = parcel.candidate.outer_bulged;
  // The weight ruler above says what the next lighter step would save.
  const cheaper = steps?.cheaper.find((one) => one.measure !== "weight");
  const risk = steps?.risks.find((one) => one.near) ?? steps?.risks[0];
  return (
    <ul className="mt-1.5 text-small">
      {cheaper ? (
        <li>
          {say(cheaper.measure, cheaper.less_by)} less {cheaper.measure} would save{" "}
          {format.money(cheaper.saves)}
        </li>
      ) : null}
      {risk ? (
        <li className={risk.near ? "text-mind" : "text-ink2"}>
          {risk.near ? <Mark kind="mind" /> : null} {percent(Number(risk.chance), 1)}
          chance the {risk.measure} passes its step, {say(risk.measure, risk.room)} off:{" "}
          {risk.costs === null ? "then it is refused" : `${format.money(risk.costs)} more`}
        </li>
      ) : null}
      <li>
        <Link
          className="text-action underline"
          to={addressOf(
            {
              outer_um: [size.length_um, size.width_um, size.height_um],
              gross_mg: parcel.candidate.weight.gross_mg,
              country: order.country,
              postcode: order.postcode,
            },
            format.system,
          )}
        >
          See price steps
        </Link>
      </li>
    </ul>
  );
}
