"""What is said of heat and cold: why an order waits, what is proposed, how much milder or worse it may be (care)."""

from collections.abc import Mapping
from decimal import Decimal

from core.care.planning import Proposal
from core.care.report import CareReport, FeltHour, ParcelCare
from core.messages import Message, say
from core.parcels.packed import ThermalWish

__all__ = ["margin_words", "proposal_words", "why_waits", "wish_words", "worst_of"]


def worst_of(report: CareReport) -> ParcelCare:
    """Return the parcel with the least to spare."""
    return min(
        report.parcels,
        key=lambda one: min((m for m in (one.warmer_c, one.colder_c) if m is not None), default=99.0),
    )


def why_waits(report: CareReport, names: Mapping[str, str]) -> Message:
    """Say what the way does to the goods that have the least to spare; ``names``: of products by sku."""
    one = worst_of(report)
    goods = tuple(names.get(sku, sku) for sku in one.skus)
    if report.unsure:
        return say("care_unsure", goods=goods)
    if one.low_limit_c is not None and one.low_c < one.low_limit_c:
        code, hour = "too_cold_on_way", min(one.hours, key=_outside)
        gets_c, limit_c = _plain(one.low_c), _plain(one.low_limit_c)
    else:
        code, hour = "too_warm_on_way", max(one.hours, key=_outside)
        gets_c, limit_c = _plain(one.high_c), _plain(one.high_limit_c)
    told = say(
        code,
        goods=goods,
        gets_c=gets_c,
        limit_c=limit_c,
        outside_c=_plain(hour.outside_c),
        where=say(f"leg_{hour.kind}"),
        worst_on=hour.begins.date(),
    )
    return say("why", sentences=(told, say("care_usual"))) if one.usual_hours * 2 > len(one.hours) else told


def _outside(hour: FeltHour) -> float:
    return hour.outside_c


def margin_words(one: ParcelCare) -> tuple[Message, ...]:
    """Say by how much the way may be warmer and colder."""
    told = []
    for margin, enough, short in (
        (one.warmer_c, "may_be_warmer", "is_too_warm_by"),
        (one.colder_c, "may_be_colder", "is_too_cold_by"),
    ):
        if margin is not None:
            told.append(say(enough if margin >= 0 else short, by_kelvin=_plain(abs(margin))))
    return tuple(told)


def wish_words(wish: ThermalWish, names: Mapping[str, str]) -> Message:
    """Say what goes in; ``names``: of supplies by code."""
    liner, pack = names.get(wish.liner, wish.liner), names.get(wish.pack, wish.pack)
    if wish.liner and wish.pack:
        return say("liner_and_packs", liner=liner, count=wish.count, pack=pack)
    return say("liner_alone", liner=liner) if wish.liner else say("packs_alone", count=wish.count, pack=pack)


def proposal_words(one: Proposal, names: Mapping[str, str]) -> Message:
    """Say what is proposed."""
    if one.kind == "packs":
        return say("propose_packs", what=wish_words(one.wish, names), extra_money=one.extra)
    if one.kind == "service" and one.arrives_on is not None:
        return say("propose_service", service=one.service_name, arrives_on=one.arrives_on, extra_money=one.extra)
    if one.kind == "day" and one.ship_on is not None:
        return say("propose_day", leaves_on=one.ship_on, days=one.waits_days)
    return say("propose_consent", loss_money=one.loss)


def _plain(value: float | None) -> Decimal:
    return Decimal(str(round(value or 0.0, 1))).normalize()
