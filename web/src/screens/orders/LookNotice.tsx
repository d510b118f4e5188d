/** Orders that came otherwise, or could leave together: told above the list while there are any. */
import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { joinOffers, orderChanges } from "../../api/orders";
import { many } from "../../domain/words";
import { Button, Mark } from "../../ui/parts";

export function LookNotice() {
  const navigate = useNavigate();
  const changes = useQuery(orderChanges()).data?.count ?? 0;
  const joins = useQuery(joinOffers()).data?.offers.length ?? 0;
  if (changes + joins === 0) return null;
  const told = [
    changes > 0
      ? `${many(changes, "order")} ${changes === 1 ? "was" : "were"} changed or cancelled by the channel`
      : "",
    joins > 0
      ? `${many(joins, "buyer")} ${joins === 1 ? "has" : "have"} several orders that could leave as one parcel`
      : "",
  ].filter(Boolean);
  return (
    <div
      className="flex items-center gap-4 border-b border-line bg-mind-soft px-6 py-2"
      role="status"
    >
      <span className="grow">
        <Mark kind="mind" /> {told.join("; ")}.
      </span>
      <Button hotkey="L" onClick={() => void navigate("/orders/changes")}>
        Look
      </Button>
    </div>
  );
}
