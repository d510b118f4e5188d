/** Where and on which days a service hands over, and zones of its own. */
import { Choice, Section, Weekdays, type Part } from "./sections";
import { ZoneRows } from "./ZoneRows";

export function Delivery({ service, set }: Part) {
  return (
    <Section title="Delivery" open={service.deliversTo !== "door" || service.handedOver.length > 0}>
      <div className="flex flex-wrap items-end gap-6">
        <div className="w-56">
          <Choice
            label="Handed over at"
            value={service.deliversTo}
            options={{ door: "the door", locker: "a locker", shop: "a shop" }}
            onPick={(deliversTo) => set({ deliversTo })}
          />
        </div>
        <Weekdays
          label="Handed over on these days only (none: every day in transit)"
          value={service.handedOver}
          onChange={(handedOver) => set({ handedOver })}
        />
      </div>
    </Section>
  );
}

export function OwnZones({ service, set }: Part) {
  return (
    <Section title="Zones of its own" open={service.zones.length > 0}>
      <p className="text-small text-ink2">
        Only where this service knows other zones than the list. Its prices stand under these then.
      </p>
      <ZoneRows typed={service} onChange={set} own />
    </Section>
  );
}
