"""Figures nobody can prove, each the workshop's own to set: what they begin with, and no rule that uses them.

Every one is named in docs/rules.md at the rule it belongs to.
"""

from dataclasses import dataclass
from decimal import Decimal

__all__ = ["ORDINARY", "Judgements"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Judgements:
    """What a workshop judges; lengths um, weights mg."""

    damage_sturdy: Decimal = Decimal("0.003")  #: share of parcels damaged, before arrivals are counted (rules 5.3)
    damage_delicate: Decimal = Decimal("0.015")
    damage_fragile: Decimal = Decimal("0.040")
    whole_after_days: int = 14  #: a parcel nobody complained of so long after it came counts as whole (rules 17.1)
    fold_um: int = 20_000  #: folded over each side of a sheet (rules 2.2)
    compression: Decimal = Decimal("0.9")  #: of wraps, in new recipes (rules 2.1)
    sheet_overlap_um: int = 50_000  #: of sheets, in new recipes (rules 2.2)
    floating_um: int = 25_000  #: round an inner carton, in new recipes (rules 3.2)
    proud_percent: int = 5  #: the top fill, in new recipes (rules 6.3)
    tape_overhang_um: int = 65_000  #: in new recipes (rules 7.1)
    fill_by_eye_percent: int = 20  #: one sigma of a fill's weight, by how it is measured (rules 8.2)
    fill_counted_percent: int = 5
    fill_weighed_percent: int = 2
    single_walls_um: int = 6_000  #: both walls of a carton together (rules 9.1)
    double_walls_um: int = 12_000
    safety_factor: Decimal = Decimal(5)  #: of box compression (rules 16.1)
    stack_um: int = 1_500_000  #: how high like parcels are stacked
    like_saving_percent: int = 15  #: the second and later of alike parcels in a row take so much less (rules 20.2)
    wave_parcels: int = 6  #: what one person carries (rules 20.6)
    humidity_percent: int = 50  #: of the workshop's air, where no sensor says it (rules 7.4)
    frozen_highest_c: int = -12  #: of frozen goods that say no limit of their own (rules 15.2)
    melts_highest_c: int = 25  #: of goods that melt and say no more
    room_c: int = 18  #: where goods stand before they are packed
    goods_heat_j_per_gk: Decimal = Decimal("2.5")  #: what a gram of goods takes up a degree (rules 15.3)
    contact_bare_mw_per_k: int = 320  #: between the box and a pack of 400 g; others by their weight
    contact_padded_mw_per_k: int = 80
    touch_bare_percent: int = 40  #: so far goods follow a bare pack they lie at
    touch_padded_percent: int = 10
    van_warmer_c: int = 3  #: a van by day than the air
    depot_warmer_c: int = 0  #: a depot than the air, over night and on days without traffic
    doorstep_hours: int = 3  #: until somebody takes it in
    spoiled_percent: int = 60  #: of parcels that leave their limits the goods are lost (rules 15.5)
    forecast_error_c: Decimal = Decimal(
        2
    )  #: a forecast is wrong by so much, one deviation; the usual by three times that
    wait_day_cost: Decimal = Decimal("1.00")  #: what it costs to let a buyer wait a day
    freezer_l: Decimal = Decimal(60)  #: room for packs
    out_of_freezer_minutes: int = 20  #: longest that frozen goods are out while they are packed
    strap_minutes: Decimal = Decimal(2)  #: for two cartons strapped together (rules 3.3)
    lift_mg: int = 10_000_000  #: marked as heavy from here on (rules 16.3)
    lift_two_mg: int = 20_000_000  #: two people or a trolley


#: What a workshop begins with.
ORDINARY = Judgements()
