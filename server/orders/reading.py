"""Opening an orders file: whose it is, how its columns are read, what has to be asked (orders; step 4 of the work).

A file with our own heading is read as it is. One whose heading is that of a channel kept before is read as that
channel's was, without a question. Any other is guessed, starting from the channel whose heading is most alike, and
asked about.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from typing import Any, Literal, cast

from babel import Locale
from babel.core import get_global
from django.utils import timezone

from core.intake.columns import (
    Column,
    Guessed,
    Knowledge,
    Matching,
    Question,
    guess,
    questions_of,
    same_header,
)
from core.intake.fields import FIELDS, Field, plain_words
from core.intake.values import ENGLISH_MONTHS
from core.tariffs.zones import all_zone_rules
from server.api.problems import Refused
from server.carriers.selectors import core_tariffs
from server.formats.matched_orders import Goods, Unknown, columns_of, read_matched
from server.formats.orders import MAX_LINES, FileFault, ReadFile, from_lines, is_own_heading, own_lines, read_orders
from server.formats.tables import NotATable, Table, is_json, read_table
from server.orders.models import ChannelFile, GoodsName
from server.recipes.models import Product
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = [
    "Opened", "goods_of", "keep_channel", "matching_from_json", "matching_to_json", "names_of_countries", "open_file",
]  # fmt: skip

#: Languages whose names of countries and months are understood.
_LANGUAGES = ("en", "de", "fr", "es", "it", "nl", "pt", "pl", "sv", "da")
#: A kept channel is a start for another file when at least so many of 100 columns have the same name.
_ALIKE_PERCENT = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Opened:
    """A file as it was opened."""

    kind: Literal["own", "kept", "asked"]
    read: ReadFile
    channel: str = ""  #: the kept channel's name
    head: tuple[str, ...] = ()
    columns: tuple[Column, ...] = ()
    matching: Matching | None = None
    why: Mapping[Field, Guessed] | None = None
    questions: tuple[Question, ...] = ()
    unknown: tuple[Unknown, ...] = ()
    countries: tuple[str, ...] = ()  #: codes the price lists know


def open_file(
    workshop: Workshop,
    content: bytes,
    *,
    matching: Matching | None = None,
    channel: str = "",
    goods: Mapping[str, str] | None = None,
) -> Opened:
    """Read a file. ``matching``, ``channel`` and ``goods`` (a name in the file -> product code): how a person says it
    is to be read.
    """
    day = today(workshop)
    if is_json(content):
        return Opened(kind="own", read=read_orders(content, today=day))
    try:
        table = read_table(content, most_lines=MAX_LINES)
    except NotATable as error:
        fault = FileFault(
            line=error.line, column="line" if error.line else "file", value=error.value, allowed=error.allowed
        )
        return Opened(kind="own", read=ReadFile(rows=(), faults=(fault,), raw=()))
    if is_own_heading(table.head) and matching is None:
        read = (
            from_lines(own_lines(table), today=day, encoding=table.encoding)
            if table.encoding == "xlsx"
            else read_orders(content, today=day)
        )
        return Opened(kind="own", read=read)
    return _matched(workshop, table, day, matching, channel, goods or {})


def _matched(
    workshop: Workshop,
    table: Table,
    day: date,
    matching: Matching | None,
    channel: str,
    names: Mapping[str, str],
) -> Opened:
    goods, columns, countries = goods_of(workshop), columns_of(table), _Countries(workshop)
    goods = replace(goods, remembered={**goods.remembered, **names})
    known = Knowledge(
        latest=day,
        skus=goods.skus,
        titles=goods.by_title.keys(),
        country_of=countries.code_of,
        months=_months(),
    )
    kind: Literal["kept", "asked"] = "asked"
    why: Mapping[Field, Guessed] = {}
    if matching is not None:
        _check_columns(matching, table)
    else:
        kept = list(ChannelFile.objects.of(workshop))
        same = [one for one in kept if same_header(one.head, table.head)]
        if len(same) == 1:
            kind, channel, matching = "kept", same[0].name, matching_from_json(same[0].matching)
            matching = _renamed(matching, table)
        else:
            guessed = guess(columns, known)
            like = same[0] if same else _most_alike(kept, table)
            why = guessed.why
            matching, liked = _started(guessed.matching, like, table) if like else (guessed.matching, "")
            channel = channel or liked
    asked = questions_of(matching, columns, known)
    file = read_matched(table, matching, known, goods, channel=channel or "file")
    # A kept channel with a new word or a column that now reads both ways is asked about, too.
    if asked:
        kind = "asked"
    return Opened(
        kind=kind,
        read=file.read,
        channel=channel,
        head=table.head,
        columns=columns,
        matching=matching,
        why=why,
        questions=asked,
        unknown=file.unknown,
        countries=tuple(sorted(countries.used)),
    )


def _check_columns(matching: Matching, table: Table) -> None:
    for name, columns in matching.columns.items():
        for column in columns:
            if column not in table.head:
                raise Refused(
                    f"This file has no column {column[:60]!r} for {name}. Choose one of its columns: "
                    f"{', '.join(table.head)[:300]}.",
                    code="no_column",
                    status=422,
                    field=f"matching.columns.{name}",
                )


def _renamed(matching: Matching, table: Table) -> Matching:
    """Name the columns as this file does: its heading is the same but for case and signs."""
    names = {plain_words(name): name for name in table.head}
    columns = {
        name: tuple(one if one in table.head else names.get(plain_words(one), one) for one in wanted)
        for name, wanted in matching.columns.items()
    }
    return replace(matching, columns=columns)


def _most_alike(kept: Sequence[ChannelFile], table: Table) -> ChannelFile | None:
    here = {plain_words(name) for name in table.head}

    def alike(one: ChannelFile) -> int:
        theirs = {plain_words(name) for name in one.head}
        return 100 * len(here & theirs) // max(1, len(here | theirs))

    best = max(kept, key=alike, default=None)
    return best if best is not None and alike(best) >= _ALIKE_PERCENT else None


def _started(guessed: Matching, like: ChannelFile, table: Table) -> tuple[Matching, str]:
    """Take what is kept of a channel where this file has the columns, and the guess for the rest."""
    kept = _renamed(matching_from_json(like.matching), table)
    columns = {
        name: wanted for name, wanted in kept.columns.items() if wanted and all(one in table.head for one in wanted)
    }
    used = {one for wanted in columns.values() for one in wanted}
    columns |= {
        name: wanted
        for name, wanted in guessed.columns.items()
        if name not in columns and name not in kept.columns and not used.intersection(wanted)
    }
    return replace(
        kept,
        columns=columns,
        day_order=guessed.day_order or kept.day_order,
        decimal_mark=guessed.decimal_mark or kept.decimal_mark,
    ), like.name


def goods_of(workshop: Workshop) -> Goods:
    """Return the workshop's products and what other programs call them."""
    rows = list(Product.objects.of(workshop).filter(retired_at=None).values_list("sku", "name"))
    titles: dict[str, str] = {}
    for sku, name in rows:
        # Two products of one name: a title does not tell which is meant.
        titles[name.lower()] = "" if name.lower() in titles else sku
    names = GoodsName.objects.of(workshop).values_list("said", "product__sku")
    return Goods(
        skus=frozenset(sku for sku, _ in rows),
        by_title={name: sku for name, sku in titles.items() if sku},
        remembered=dict(names),
    )


def keep_channel(*, workshop: Workshop, name: str, head: Sequence[str], matching: Matching) -> None:
    """Keep how a channel's files are read, under its name; the next file with the same heading is not asked about."""
    ChannelFile.objects.of(workshop).update_or_create(
        workshop=workshop,
        name=name,
        defaults={"head": list(head), "matching": matching_to_json(matching), "used_at": timezone.now()},
    )


def matching_to_json(matching: Matching) -> dict[str, Any]:
    """Return a matching as it is kept."""
    return {
        "columns": {name: list(columns) for name, columns in matching.columns.items() if columns},
        "day_order": matching.day_order,
        "decimal_mark": matching.decimal_mark,
        "constants": dict(matching.constants),
        "words": {name: dict(words) for name, words in matching.words.items() if words},
    }


def matching_from_json(document: Mapping[str, Any]) -> Matching:
    """Return a matching that was kept; fields that are not known any more are left out."""
    return Matching(
        columns={cast(Field, name): tuple(wanted) for name, wanted in document["columns"].items() if name in FIELDS},
        day_order=document["day_order"],
        decimal_mark=document["decimal_mark"],
        constants={cast(Field, name): text for name, text in document["constants"].items() if name in FIELDS},
        words={cast(Field, name): dict(words) for name, words in document["words"].items() if name in FIELDS},
    )


class _Countries:
    """Codes of countries as this workshop's price lists write them, from their names in any of the languages."""

    def __init__(self, workshop: Workshop) -> None:
        self.used = {rule.country for tariff in core_tariffs(workshop) for rule in all_zone_rules(tariff)}
        self.used.add(workshop.country)

    def code_of(self, text: str) -> str | None:
        """Return a country's code; None when the text names none."""
        if text.upper() in self.used:
            return text.upper()
        two = names_of_countries().get(plain_words(text))
        if two is None:
            return None
        three = _threes().get(two)
        return three if three in self.used and two not in self.used else two


@lru_cache(maxsize=1)
def names_of_countries() -> Mapping[str, str]:
    """Return codes of two letters by code and by name, in plain words (Unicode CLDR)."""
    found: dict[str, str] = {}
    for language in _LANGUAGES:
        for code, name in Locale(language).territories.items():
            if len(code) == 2 and code.isalpha():
                found.setdefault(plain_words(name), code)
                found.setdefault(code.lower(), code)
    for two, three in _threes().items():
        found.setdefault(three.lower(), two)
    return found


@lru_cache(maxsize=1)
def _threes() -> Mapping[str, str]:
    """Return codes of three letters by those of two."""
    aliases = get_global("territory_aliases")
    return {twos[0]: three for three, twos in aliases.items() if len(three) == 3 and three.isalpha() and len(twos) == 1}


@lru_cache(maxsize=1)
def _months() -> Mapping[str, int]:
    found = dict(ENGLISH_MONTHS)
    for language in _LANGUAGES:
        for names in Locale(language).months["format"].values():
            for number, name in names.items():
                if not name.isdigit():
                    found.setdefault(plain_words(name), number)
    return found
