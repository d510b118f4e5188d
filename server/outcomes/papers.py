"""What stands on a claim to a carrier (outcomes)."""

from core.messages import say
from core.units import Size, format_size, format_weight
from server.api.problems import Refused
from server.carriers.models import Label
from server.formats.claim_sheet import ClaimSheet
from server.outcomes.claims import claim_of
from server.outcomes.models import Claim
from server.words import day_words, words_of
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["claim_sheet"]

_PROOFS = {"photo": "a photo", "slip": "the packing slip", "label": "the label"}


def claim_sheet(workshop: Workshop, claim_id: int) -> tuple[ClaimSheet, str]:
    """Return what stands on the claim, and the order's number. Raises Refused (404)."""
    claim = Claim.objects.of(workshop).select_related("arrival__parcel__order").filter(pk=claim_id).first()
    if claim is None:
        raise Refused("There is no such claim in your workshop.", code="not_found", status=404)
    row = claim.arrival
    order = row.parcel.order
    label = Label.objects.of(workshop).filter(parcel=row.parcel, state=Label.State.BOUGHT).first()
    goods = list(row.goods.select_related("version__recipe").order_by("id"))
    units = workshop.unit_system
    length, width, height = row.outer_um
    packed = ", ".join(
        dict.fromkeys(f"{one.version.recipe.name}, version {one.version.number}" for one in goods if one.version)
    )
    may = claim_of(row, today(workshop))
    facts = (
        ("Order", order.number),
        ("Sent to", f"{order.buyer}, {', '.join(order.address)}, {order.postcode} {order.country}"),
        ("Service", row.service_name),
        ("Tracking", row.parcel.tracking),
        ("Handed over", day_words(row.sent_on)),
        ("Promised for", day_words(row.promised_on)),
        ("Delivered", day_words(row.delivered_on) if row.delivered_on else "not delivered"),
        ("Weight", format_weight(label.weight_mg if label else row.expected_mg, units)),
        ("Outside", format_size(Size(length_um=length, width_um=width, height_um=height), units)),
        ("Packed by", packed or "no recipe"),
        ("Claimed", f"{claim.amount} {workshop.currency}"),
        ("Until", day_words(claim.until) if claim.until else "no last day"),
    )
    words = words_of(units)
    places = [words.of(say(f"place_{one.place}")).lower() for one in row.harms.all() if one.place]
    happened = f"It arrived {row.outcome}" if row.outcome != "lost" else "It did not arrive"
    return (
        ClaimSheet(
            title=f"Claim for order {order.number}",
            workshop=workshop.name,
            sender=tuple(workshop.address),
            facts=facts,
            goods=tuple((one.units, one.name, f"{one.unit_value} {workshop.currency}") for one in goods),
            happened=f"{happened}{': ' + ', '.join(places) if places else ''}. {row.note}".strip(),
            message=row.message,
            missing=tuple(_PROOFS[one] for one in (may.missing if may else ())),
            photos=tuple(bytes(photo.content) for photo in row.photos.all()),
        ),
        order.number,
    )
