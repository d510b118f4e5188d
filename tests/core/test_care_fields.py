"""Every field of care on product, supply, recipe and price list, and every judgement: each changes what comes out."""

import unittest
from dataclasses import fields, replace
from datetime import timedelta
from typing import Any

from core.bench.steps import steps_of
from core.care.weather import Weather
from core.judgements import Judgements
from core.parcels.facts import Facts, Overrides
from core.parcels.layers import pack_layers
from core.parcels.plan import PlannedOrder
from core.recipes.model import BandThermal, Recipe
from core.supplies.items import Insert, Liner, ThermalPack
from tests.core.caring import FOAM, GEL, WARMER, always, cared, choice, cool_facts
from tests.core.samples import DAY, D, band, jar, order, recipe, service, size, tariff

HOT, FROST = always(17, 27), always(-6, 0)


def known(*inserts: Insert, **changes: Any) -> Facts:
    facts = cool_facts(**changes)
    shelf = {one.code: one for one in inserts} if inserts else {}
    free = {**facts.free, **{code: D(1000) for code in shelf}}
    return replace(facts, shelf=replace(facts.shelf, inserts={**facts.shelf.inserts, **shelf}), free=free)


def told(how: Recipe, facts: Facts, weather: Weather, *, decided: Overrides | None = None, **product: Any) -> str:
    """Everything that comes of an order with a limit."""
    given = {"highest_c": 18, **product}
    found = cared(order(2, product=jar(**given), how=how), weather, facts, decided=decided or Overrides())
    if not isinstance(found.result, PlannedOrder):
        return repr(found.result)
    parts: list[Any] = [found.report, found.proposals, found.result.ship_on]
    for parcel in found.result.chosen.parcels:
        one = parcel.candidate
        steps = steps_of(parcel, (how,), pack_layers(parcel, {}), {})
        parts += [one.costs, one.uses, one.placements, one.thermal, one.weight, one.minutes, one.refusals, steps]
    return repr(parts)


def wide(thermal: BandThermal | None = None) -> Recipe:
    return recipe(band(1, 6, outers=("C-20",), thermal=thermal))


COOLED = wide(BandThermal(liner="FOAM", packs=("GEL",)))


class EveryField(unittest.TestCase):
    def changes(self, kind: type, tried: dict[str, Any], differs: Any) -> None:
        self.assertEqual(set(tried), {one.name for one in fields(kind)})
        for name, value in tried.items():
            with self.subTest(name):
                self.assertNotEqual(*differs(name, value))

    def test_of_a_liner(self) -> None:
        tried = {
            "conductivity_mw_per_mk": 90,
            "tested_hours": D(6),
            "tested_room_c": D(35),
            "tested_inner": size(400, 300, 300),
            "fits": ("C-08",),
            "minutes": D(9),
        }

        def differs(name: str, value: Any) -> tuple[str, str]:
            tested = name.startswith("tested")
            base = Liner(tested_hours=D(12), tested_inner=size(250, 200, 150)) if tested else Liner()
            other = replace(base, **{name: value})
            return tuple(told(COOLED, known(replace(FOAM, liner=one)), HOT) for one in (base, other))  # type: ignore[return-value]

        self.changes(Liner, tried, differs)

    def test_of_a_pack(self) -> None:
        cold = {
            "kind": "dry_ice",
            "length_um": 250_000,
            "width_um": 190_000,
            "melts_c": D(9),
            "latent_j_per_g": 60,
            "start_c": D(-60),
            "padded": True,
            "minutes": D(3),
        }
        # These are of the freezer's tasks (server) and of heat packs.
        heat = {"power_mw": 400, "rated_hours": D(20), "activate_minutes": 45, "air_um": 60_000}
        of_the_freezer = {"freeze_hours", "soak_minutes"}
        names = {one.name for one in fields(ThermalPack)}
        self.assertEqual({*cold, *heat} | of_the_freezer, names)
        cases: tuple[tuple[dict[str, Any], Insert, Recipe, Weather, dict[str, Any]], ...] = (
            (cold, GEL, COOLED, HOT, {}),
            (heat, WARMER, wide(BandThermal(liner="FOAM", packs=("HEAT",))), FROST, {"lowest_c": 6, "highest_c": None}),
        )
        for tried, insert, how, weather, limits in cases:
            assert insert.pack is not None
            before = told(how, known(insert), weather, **limits)
            for name, value in tried.items():
                with self.subTest(name):
                    other = replace(insert, pack=replace(insert.pack, **{name: value}))
                    self.assertNotEqual(told(how, known(other), weather, **limits), before)

    def test_of_a_band(self) -> None:
        tried = {"liner": "", "packs": ("PAD",), "when": "always", "least": 9}

        def differs(name: str, value: Any) -> tuple[str, str]:
            base = BandThermal(liner="FOAM", packs=("GEL",), least=1)
            weather = always(6, 12) if name == "when" else HOT
            return tuple(told(wide(one), known(), weather) for one in (base, replace(base, **{name: value})))  # type: ignore[return-value]

        self.changes(BandThermal, tried, differs)

    def test_of_a_product(self) -> None:
        plain: dict[str, Any] = {"highest_c": None}
        changes: tuple[dict[str, Any], ...] = (
            {"lowest_c": 10},
            {"highest_c": 16},
            {"frozen": True},
            {"meltable": True},
            {"longest_days": 0},
            {"keeps_days": 0},
            {"live": True, "highest_c": 20},
        )
        for change in changes:
            with self.subTest(change):
                base = {**plain, **({"highest_c": 18} if "days" in str(change) else {})}
                before = told(wide(), known(), HOT, **base)
                self.assertNotEqual(told(wide(), known(), HOT, **{**base, **change}), before)

    def test_of_a_price_list(self) -> None:
        dry = replace(GEL, code="DRY", pack=replace(GEL.pack, kind="dry_ice", melts_c=D("-78.5")))  # type: ignore[type-var]
        asked = Overrides(care=choice("FOAM", "DRY", 2))
        found = [
            told(wide(), known(dry, tariffs=(tariff(service(takes_dry_ice=takes)),)), HOT, decided=asked)
            for takes in (False, True)
        ]
        self.assertNotEqual(*found)
        # Days without traffic are days in a depot: another way, another temperature.
        calm = replace(tariff(), holidays=(DAY + timedelta(days=1),))
        self.assertNotEqual(
            *(told(wide(), known(tariffs=(one,)), always(10, 17)) for one in (tariff(), calm)),
        )

    def test_of_judgements(self) -> None:
        tried: dict[str, Any] = {
            "frozen_highest_c": -20,
            "melts_highest_c": 20,
            "room_c": 10,
            "goods_heat_j_per_gk": D(4),
            "contact_bare_mw_per_k": 100,
            "contact_padded_mw_per_k": 20,
            "touch_bare_percent": 90,
            "touch_padded_percent": 80,
            "van_warmer_c": 12,
            "depot_warmer_c": 8,
            "doorstep_hours": 12,
            "forecast_error_c": D(5),
            "spoiled_percent": 10,
            "wait_day_cost": D(9),
        }
        names = [one.name for one in fields(Judgements)]
        mine = names[names.index("frozen_highest_c") : names.index("strap_minutes")]
        of_the_hands = {"freezer_l", "out_of_freezer_minutes"}  # tests/server/test_care, tests/core/test_bench
        self.assertEqual({*tried, *of_the_hands}, set(mine))
        padded = wide(BandThermal(liner="FOAM", packs=("PAD",)))
        for name, value in tried.items():
            with self.subTest(name):
                how, weather = COOLED, HOT
                product: dict[str, Any] = {"highest_c": 18}
                if name in ("frozen_highest_c", "melts_highest_c"):
                    kind = "frozen" if name.startswith("frozen") else "meltable"
                    how, product = wide(), {"highest_c": None, kind: True}
                elif "padded" in name:
                    how = padded
                elif name == "wait_day_cost":
                    how, weather = wide(), _cool_later()
                base = known()
                judged = replace(base.settings.judgements, **{name: value})
                other = replace(base, settings=replace(base.settings, judgements=judged))
                self.assertNotEqual(told(how, other, weather, **product), told(how, base, weather, **product))

    def test_frozen_goods_are_timed_at_the_bench(self) -> None:
        how = wide()
        found = cared(order(2, product=jar(frozen=True), how=how), always(-30, -20), known())
        assert isinstance(found.result, PlannedOrder)
        parcel = found.result.chosen.parcels[0]
        for minutes in (20, 8):
            steps = steps_of(parcel, (how,), pack_layers(parcel, {}), {}, out_minutes=minutes)
            kinds = [step.kind for step in steps]
            out = steps[kinds.index("out")]
            self.assertEqual((out.limit_minutes, [take.name for take in out.takes]), (minutes, ["jar"]))
            self.assertLess(kinds.index("cut"), kinds.index("out"))
            gather = steps[kinds.index("gather")]
            self.assertNotIn("jar", [take.name for take in gather.takes])


def _cool_later() -> Weather:
    hot = always(19, 29, days=4)
    mild = always(3, 9)
    later = {key: one for key, one in mild.days.items() if key[1] >= DAY + timedelta(days=4)}
    return replace(hot, days={**hot.days, **later})


if __name__ == "__main__":
    unittest.main()
