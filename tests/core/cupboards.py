"""Made-up cupboards and small buying problems, by seed."""

import random
from datetime import date
from decimal import Decimal

from core.buying.exact import Option, Problem
from core.buying.needs import Need
from core.buying.offers import Offer, PriceBreak, Supplier
from core.buying.use import WeekUse, weeks_before

__all__ = ["random_cupboard", "random_problem"]


def random_cupboard(seed: int, today: date, *, most: int = 9) -> list[Need]:
    """Return up to ``most`` supplies of up to three suppliers, most of them running low."""
    draw = random.Random(seed)
    suppliers = [
        Supplier(
            code=f"s{number}",
            name=f"Supplier {number}",
            lead_days=draw.randint(1, 10),
            delivery=Decimal(draw.choice([0, 4, 6, 9])),
            free_from=Decimal(draw.choice([60, 90, 150])) if draw.random() < 0.7 else None,
        )
        for number in range(draw.randint(1, 3))
    ]
    needs = []
    for number in range(draw.randint(2, most)):
        mean = draw.uniform(2, 40)
        offers = []
        for supplier in draw.sample(suppliers, draw.randint(1, min(2, len(suppliers)))):
            price = Decimal(draw.randint(5, 200)) / 100
            cheaper = (price * Decimal("0.9")).quantize(Decimal("0.01"))
            offers.append(
                Offer(
                    supplier=supplier,
                    pack=Decimal(draw.choice([1, 5, 10, 25])),
                    least=Decimal(draw.choice([0, 10, 50])),
                    breaks=(
                        PriceBreak(from_quantity=Decimal(0), price=price),
                        PriceBreak(from_quantity=Decimal(100), price=cheaper),
                    ),
                )
            )
        weeks = tuple(
            WeekUse(first_day=day, used=Decimal(max(0, round(draw.gauss(mean, mean / 3)))))
            for day in weeks_before(today)
        )
        on_hand = Decimal(draw.randint(0, int(mean * 3)))
        needs.append(Need(code=f"X{number:02}", on_hand=on_hand, needed={}, weeks=weeks, offers=tuple(offers)))
    return needs


def random_problem(seed: int) -> tuple[Problem, int]:
    """Return up to five lines with up to three amounts each, two suppliers, and a budget that is short."""
    draw = random.Random(seed)
    lines = draw.randint(2, 5)
    options = []
    without = [draw.randint(0, 6) for _ in range(lines)]
    for line in range(lines):
        seller = draw.randint(0, 1)
        reach, cents = without[line], 0
        for _ in range(draw.randint(1, 3)):
            reach, cents = min(12, reach + draw.randint(0, 4)), cents + draw.randint(100, 900)
            options.append(Option(line=line, supplier=seller, quantity=Decimal(cents), cents=cents, runs_out=reach))
    problem = Problem(
        options=tuple(options),
        without=tuple(without),
        alone=tuple(draw.random() < 0.7 for _ in range(lines)),
        delivery=(draw.choice([0, 300, 650]), draw.choice([0, 400])),
        free_from=(draw.choice([None, 1200]), draw.choice([None, 900])),
    )
    return problem, draw.randint(0, sum(one.cents for one in options) // 2 + 500)
