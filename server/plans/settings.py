"""The workshop's settings: what each is, why it begins as it does, where it counts; and writing them down.

A setting is a column of the workshop or one of its judgements (core.judgements); the table is the one list of them.
"""

from collections.abc import Mapping
from copy import copy
from dataclasses import asdict, dataclass
from decimal import Decimal, InvalidOperation
from typing import Literal

from django.db import transaction
from django.utils import timezone

from core.judgements import ORDINARY
from core.parcels.plan import PlannedOrder
from core.parcels.remembered import Remembered
from server.api.problems import Fault, Refused
from server.orders.models import Order
from server.plans.writing import draft
from server.workshops.happened import tell_anything
from server.workshops.models import Member, SettingChange, Workshop, lock_workshop

__all__ = ["SETTINGS", "Setting", "SettingsEffect", "effect_of_settings", "set_settings", "values_of"]

Kind = Literal["money", "minutes", "number", "percent", "share", "length", "weight", "degrees", "hours"]
Group = Literal["work", "weight", "risk", "packing", "outside", "strength", "recipes", "care"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting:
    """One figure of judgement. Values are in money, minutes, percent, shares of one, um or mg by its kind."""

    name: str
    group: Group
    kind: Kind
    title: str
    default: Decimal
    least: Decimal
    most: Decimal
    whole: bool  #: no fractions: um, mg, whole percent
    rule: str  #: in docs/rules.md
    reason: str
    where: str


def _row(
    name: str, group: Group, kind: Kind, title: str, ends: tuple[str, str], rule: str, reason: str, where: str,
) -> Setting:  # fmt: skip
    value = getattr(ORDINARY if hasattr(ORDINARY, name) else Workshop(), name)
    return Setting(
        name=name,
        group=group,
        kind=kind,
        title=title,
        default=Decimal(str(value)),
        least=Decimal(ends[0]),
        most=Decimal(ends[1]),
        whole=isinstance(value, int),
        rule=rule,
        reason=reason,
        where=where,
    )


SETTINGS: tuple[Setting, ...] = (
    _row("wage_per_hour", "work", "money", "An hour of work costs", ("0", "1000"), "5.2",
         "What an hour of your own would earn elsewhere; minutes count in every comparison.",
         "The cost of every plan, and what a look into a parcel costs."),
    _row("strap_minutes", "work", "minutes", "Strapping two cartons takes", ("0", "60"), "3.3",
         "Two bands, and holding two cartons still.", "Plans of two cartons strapped together."),
    _row("like_saving_percent", "work", "percent", "A parcel like the one before takes less by", ("0", "90"), "20.2",
         "Supplies lie ready and hands know the turns.", "The order of packing and when to begin, on the Day screen."),
    _row("wave_parcels", "work", "number", "Gathered in one walk, at most", ("1", "50"), "20.6",
         "What one person carries.", "The waves of the Day screen."),
    _row("look_minutes", "weight", "minutes", "A look into a packed parcel takes", ("0.01", "60"), "8.3",
         "Half a minute: open, look, close.", "When the scale asks for a look."),
    _row("slip_one_in", "weight", "number", "One parcel has a slip in", ("2", "100000"), "8.3",
         "One in two hundred is what careful people do.", "When the scale asks for a look."),
    _row("scale_division_mg", "weight", "weight", "The scale shows steps of", ("1", "1000000"), "8.2",
         "What is written on the scale.", "The uncertainty of every weight."),
    _row("fill_by_eye_percent", "weight", "percent", "Fill measured by eye is off by", ("0", "100"), "8.2",
         "One sigma; hands vary that much in litres, scoops and bags.", "The uncertainty of parcels with loose fill."),
    _row("fill_counted_percent", "weight", "percent", "Fill that is counted is off by", ("0", "100"), "8.2",
         "Sheets and metres are cut nearly alike.", "The uncertainty of parcels with sheets or metres of fill."),
    _row("fill_weighed_percent", "weight", "percent", "Fill that is weighed is off by", ("0", "100"), "8.2",
         "A kitchen scale and a full hand.", "The uncertainty of parcels with fill by weight."),
    _row("damage_sturdy", "risk", "share", "Sturdy goods arrive damaged", ("0", "0.5"), "5.3",
         "Three in a thousand, until arrivals are counted.", "The expected damage in every plan of sturdy goods."),
    _row("damage_delicate", "risk", "share", "Delicate goods arrive damaged", ("0", "0.5"), "5.3",
         "Fifteen in a thousand, until arrivals are counted.", "The expected damage in every plan of delicate goods."),
    _row("damage_fragile", "risk", "share", "Fragile goods arrive damaged", ("0", "0.5"), "5.3",
         "Forty in a thousand, until arrivals are counted.", "The expected damage in every plan of fragile goods."),
    _row("whole_after_days", "risk", "number", "A parcel counts as whole after days", ("1", "120"), "17.1",
         "Two weeks: who has something to complain of has done it by then.",
         "The Arrivals screen, and every rate of damage."),
    _row("unprotected_factor", "risk", "number", "Exposed goods break so many times as often", ("1", "100"), "5.3",
         "Three times: a cushion without fill is little more than air.", "Ways that protect less than they should."),
    _row("support_percent", "packing", "percent", "Of a base must lie on something", ("0", "100"), "4.3",
         "Three quarters: then nothing tips.", "Where goods may stand in a carton."),
    _row("humidity_percent", "packing", "percent", "Humidity of the workshop", ("1", "100"), "7.4",
         "A heated room; a sensor that is connected goes before this.", "Warnings of tape that damp weakens."),
    _row("fold_um", "packing", "length", "Folded over each side of a wrap", ("0", "500000"), "2.2",
         "Two fingers of paper hold.", "How much sheet every wrapped piece takes."),
    _row("single_walls_um", "outside", "length", "Walls of single board add", ("0", "100000"), "9.1",
         "Both walls together, until the carton is measured outside.", "Outside sizes of cartons not measured."),
    _row("double_walls_um", "outside", "length", "Walls of double board add", ("0", "100000"), "9.1",
         "Both walls together, until the carton is measured outside.", "Outside sizes of cartons not measured."),
    _row("safety_factor", "strength", "number", "Board is loaded to one part in", ("1", "20"), "16.1",
         "Five: damp, handling and time take most of a board's strength.", "Whether a carton bears a stack."),
    _row("stack_um", "strength", "length", "Parcels are stacked up to", ("100000", "5000000"), "16.1",
         "As high as people stack by hand.", "Whether a carton bears a stack."),
    _row("lift_mg", "strength", "weight", "A parcel is heavy from", ("1000000", "100000000"), "16.3",
         "Less than that anybody lifts many times a day.", "The mark Heavy, and a caution at the bench."),
    _row("lift_two_mg", "strength", "weight", "Two people or a trolley from", ("1000000", "200000000"), "16.3",
         "More than one person lifts safely.", "A caution at the bench."),
    _row("compression", "recipes", "share", "Wraps are pressed to", ("0.1", "1"), "2.1",
         "Nine tenths of their thickness.", "Recipes that are proposed from now on."),
    _row("sheet_overlap_um", "recipes", "length", "A sheet overlaps by", ("0", "500000"), "2.2",
         "Enough for a strip of tape.", "Recipes that are proposed from now on."),
    _row("floating_um", "recipes", "length", "An inner carton has clear on every face", ("0", "200000"), "3.2",
         "What an inner carton needs to float.", "Recipes that are proposed from now on."),
    _row("proud_percent", "recipes", "percent", "The top is overfilled by", ("0", "50"), "6.3",
         "Then the flaps push back a little.", "Recipes that are proposed from now on."),
    _row("tape_overhang_um", "recipes", "length", "Tape reaches over the edge by", ("0", "300000"), "7.1",
         "So that it holds on the sides.", "Recipes that are proposed from now on."),
    _row("melts_highest_c", "care", "degrees", "Goods that melt stay under", ("0", "60"), "15.2",
         "Chocolate and soft wax change from 26 degrees on.", "Goods that melt and say no limit of their own."),
    _row("frozen_highest_c", "care", "degrees", "Frozen goods stay under", ("-60", "0"), "15.2",
         "Colder than that nothing begins to thaw.", "Frozen goods that say no limit of their own."),
    _row("room_c", "care", "degrees", "Goods stand in a room of", ("-30", "40"), "15.3",
         "A store room.", "How warm goods are when they are packed."),
    _row("goods_heat_j_per_gk", "care", "number", "A gram of goods takes up, J a degree", ("0.1", "10"), "15.3",
         "Between fat (2) and water (4.2).", "How fast goods warm up and cool down."),
    _row("contact_bare_mw_per_k", "care", "number", "An ordinary bare pack gives its cold off, mW a degree",
         ("10", "5000"), "15.3", "Measured on packs that lie flat on goods.", "How many bare packs a parcel needs."),
    _row("contact_padded_mw_per_k", "care", "number", "An ordinary pack in a sleeve, mW a degree",
         ("5", "5000"), "15.3", "A sleeve lets a quarter through.", "How many padded packs a parcel needs."),
    _row("touch_bare_percent", "care", "percent", "Goods at a bare pack follow it by", ("0", "100"), "15.3",
         "What touches ice gets cold first.", "Whether bare packs freeze goods."),
    _row("touch_padded_percent", "care", "percent", "Goods at a padded pack follow it by", ("0", "100"), "15.3",
         "A sleeve keeps the frost off.", "Whether padded packs freeze goods."),
    _row("van_warmer_c", "care", "degrees", "A van by day is warmer by", ("0", "30"), "15.2",
         "It stands in the sun between stops.", "The temperature of the way."),
    _row("depot_warmer_c", "care", "degrees", "A depot is warmer by", ("-10", "20"), "15.2",
         "A hall follows the air outside.", "The temperature of nights and weekends."),
    _row("doorstep_hours", "care", "hours", "A parcel stands at the door for", ("0", "24"), "15.2",
         "Until somebody comes home.", "The end of every way."),
    _row("forecast_error_c", "care", "degrees", "A forecast is wrong by", ("0", "15"), "15.5",
         "Two of three are closer, for the days a parcel travels; usual weather: three times that.",
         "The expected loss of goods with a limit."),
    _row("spoiled_percent", "care", "percent", "Goods outside their limits are lost in", ("0", "100"), "15.5",
         "Not every soft bar is sent back.", "The expected loss of goods with a limit."),
    _row("wait_day_cost", "care", "money", "A day a buyer waits costs", ("0", "100"), "15.5",
         "What a day of patience is worth to you.", "Whether sending later beats packs and liners."),
    _row("freezer_l", "care", "number", "Room for packs in the freezer, litres", ("0", "5000"), "15.6",
         "Two drawers.", "How many packs may be put in."),
    _row("out_of_freezer_minutes", "care", "minutes", "Frozen goods are outside for at most", ("1", "240"), "15.4",
         "Until a surface begins to soften.", "The clock at the bench for frozen goods."),
)  # fmt: skip
_BY_NAME = {one.name: one for one in SETTINGS}
_COLUMNS = frozenset(one.name for one in SETTINGS if not hasattr(ORDINARY, one.name))
#: So many open orders are planned to show an effect: the oldest.
MOST_ORDERS = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingsEffect:
    """What a change does to open orders."""

    orders: int  #: open ones that were planned again, the oldest
    left_out: int
    changed: int  #: whose parcel or cost is another
    before: Decimal  #: total of those that are planned before and after
    after: Decimal
    no_longer: int  #: planned before, not after
    now_planned: int


def values_of(workshop: Workshop) -> dict[str, Decimal]:
    """Return every setting's value."""
    own = {**asdict(ORDINARY), **workshop.judgements}
    found = {name: getattr(workshop, name) if name in _COLUMNS else own[name] for name in _BY_NAME}
    return {name: Decimal(str(value)) for name, value in found.items()}


@transaction.atomic
def set_settings(*, by: Member, values: Mapping[str, str]) -> None:
    """Write settings down, each with what it was; open orders are planned again. Raises Refused with every error."""
    lock_workshop(by.workshop)
    by.workshop.refresh_from_db()
    given = _read(values, values_of(by.workshop))
    before = values_of(by.workshop)
    changed = {name: value for name, value in given.items() if value != before[name]}
    if not changed:
        return
    _apply(by.workshop, changed)
    by.workshop.save(update_fields=[*(name for name in changed if name in _COLUMNS), "judgements"])
    now = timezone.now()
    SettingChange.objects.of(by.workshop).bulk_create(
        SettingChange(workshop=by.workshop, name=name, before=str(before[name]), after=str(value), by=by.name, at=now)
        for name, value in changed.items()
    )
    tell_anything(by.workshop)


def effect_of_settings(workshop: Workshop, values: Mapping[str, str]) -> SettingsEffect:
    """Plan open orders as they would be with these settings; nothing is written. Raises Refused with every error."""
    given = _read(values, values_of(workshop))
    tried = copy(workshop)
    tried.judgements = dict(workshop.judgements)
    _apply(tried, given)
    rows = Order.objects.of(workshop).filter(state__in=Order.OPEN, hold_code="").order_by("placed_on", "id")
    orders = list(rows[:MOST_ORDERS])
    as_it_is, as_tried = _planned(workshop, orders), _planned(tried, orders)
    both = [pk for pk in as_it_is if pk in as_tried]
    return SettingsEffect(
        orders=len(orders),
        left_out=max(0, rows.count() - len(orders)),
        changed=sum(1 for pk in both if as_it_is[pk] != as_tried[pk]),
        before=sum((as_it_is[pk][0] for pk in both), Decimal(0)),
        after=sum((as_tried[pk][0] for pk in both), Decimal(0)),
        no_longer=len(as_it_is.keys() - as_tried.keys()),
        now_planned=len(as_tried.keys() - as_it_is.keys()),
    )


def _planned(workshop: Workshop, orders: list[Order]) -> dict[int, tuple[Decimal, str]]:
    """Return total and way of each order that can be planned, by its key."""
    found = {}
    for one in draft(workshop, orders, remembered=Remembered()).orders:
        if isinstance(one.result, PlannedOrder):
            found[one.order.pk] = (one.result.chosen.costs.total, one.result.chosen.key)
    return found


def _apply(workshop: Workshop, values: Mapping[str, Decimal]) -> None:
    for name, value in values.items():
        setting = _BY_NAME[name]
        if name in _COLUMNS:
            setattr(workshop, name, int(value) if setting.whole else value)
        elif value == setting.default:
            workshop.judgements.pop(name, None)
        else:
            workshop.judgements[name] = str(value)


def _read(values: Mapping[str, str], now: Mapping[str, Decimal]) -> dict[str, Decimal]:
    faults: list[Fault] = []
    found: dict[str, Decimal] = {}
    for name, text in values.items():
        setting = _BY_NAME.get(name)
        if setting is None:
            faults.append(Fault(path=name, message="There is no such setting."))
            continue
        try:
            value = Decimal(text)
        except InvalidOperation:
            value = Decimal("NaN")
        wrong = _fault(setting, value)
        if wrong:
            faults.append(Fault(path=name, message=wrong))
        found[name] = value
    lifts = {**now, **found}
    if not faults and lifts["lift_two_mg"] < lifts["lift_mg"]:
        faults.append(Fault(path="lift_two_mg", message="Two people are needed for more than one person lifts."))
    if faults:
        detail = f"{len(faults)} setting{'' if len(faults) == 1 else 's'} cannot be so. Nothing was saved."
        raise Refused(detail, code="not_valid", status=422, faults=faults)
    return found


def _fault(setting: Setting, value: Decimal) -> str:
    if not value.is_finite():
        return "This is no number."
    if not setting.least <= value <= setting.most:
        return f"From {setting.least} to {setting.most}; given: {value}."
    if setting.whole and value != value.to_integral_value():
        return f"A whole number; given: {value}."
    exponent = value.as_tuple().exponent
    if isinstance(exponent, int) and exponent < -4:
        return f"At most four places; given: {value}."
    return ""
