"""Rows of the cupboard to the core's values."""

from collections.abc import Iterable
from decimal import Decimal

from core.judgements import Judgements
from core.recipes.expand import Shelf
from core.supplies.items import Container, Fill, Insert, Mailer, Tape, UnitBox, Wrap
from server.formats.supplies import CartonFacts, MailerFacts, facts_of, item_of
from server.supplies.selectors import Stock

__all__ = ["core_cupboard", "materials_of"]


def materials_of(stocks: Iterable[Stock]) -> dict[str, str]:
    """Return what each supply is made of, by code."""
    return {stock.supply.code: stock.supply.facts.get("material") or "paper" for stock in stocks}


def core_cupboard(
    stocks: Iterable[Stock], judged: Judgements
) -> tuple[Shelf, tuple[Container | Mailer, ...], dict[str, Decimal]]:
    """Return the shelf, the containers and the free quantities as the core wants them."""
    items = []
    free: dict[str, Decimal] = {}
    for stock in stocks:
        row = stock.supply
        free[row.code] = stock.free
        facts = facts_of(row.facts)
        if isinstance(facts, CartonFacts) and facts.one_off and stock.on_hand <= 0:
            continue  # a reclaimed carton that went out will not come again
        if row.retired_at is not None and isinstance(facts, CartonFacts | MailerFacts):
            continue  # parcels under way still name the others
        items.append(item_of(row.code, row.name, facts, stock.average_cost, row.narrowest_cut_um, judged))
    shelf = Shelf(
        wraps={i.code: i for i in items if isinstance(i, Wrap)},
        fills={i.code: i for i in items if isinstance(i, Fill)},
        tapes={i.code: i for i in items if isinstance(i, Tape)},
        inserts={i.code: i for i in items if isinstance(i, Insert)},
        unit_boxes={i.code: i for i in items if isinstance(i, UnitBox)},
    )
    return shelf, tuple(i for i in items if isinstance(i, Container | Mailer)), free
