"""Files that somebody cut, swapped, scribbled on or saved wrongly, and what every importer makes of them.

Used by tests/server/test_broken_files (a few) and by ``./calm storm`` (20 000).
"""

import base64
import copy
import io
import json
import random
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from unittest import mock

from django.db import connection, transaction
from openpyxl import load_workbook

from server.api.refused import Refused
from server.commands.intake import import_kind
from server.designing.files import products_file, recipes_file
from server.formats.base import read_file
from server.formats.photo import read_photo
from server.formats.products_csv import write_products
from server.formats.workshop import WorkshopFile
from server.orders.intake import import_opened
from server.orders.reading import open_file
from server.outcomes.importing import import_outcomes
from server.outcomes.models import Arrival
from server.plans.models import Wave
from server.plans.waves import run_wave
from server.workshops.models import Member, Workshop
from server.workshops.services import import_workshop
from tests.core.order_files import FILES
from tests.kept_rows import fingerprint

__all__ = ["Found", "Importer", "importers_of", "let_in", "scribbled"]

ROOT = Path(__file__).resolve().parent.parent.parent
DEMO, MARRAM = ROOT / "demo", ROOT / "tests" / "golden" / "marram-2026-10.json"
SCRIBBLES: tuple[Any, ...] = (
    None, "", -1, 0, 10**12, 1.5, "x" * 500, [], {}, True, "NaN", "\x00", [None], {"a": 1}, "1e999", -0.0, 10**40,
    "\ud800", "=1+1", "\u202e", [[[[]]]],
)  # fmt: skip
_PIECES = (
    b"\x00", b"\xff\xfe", b"\xef\xbb\xbf", b'"', b",", b";", b"\n", b"\r", b"-", b"9" * 40, b"{", b"]", b"\\u0000",
    b"1e400", b"NaN", b"\xf0\x9f\xa7\xbc", "\u202e".encode(), b"=cmd", b"\t" * 50, b"A" * 3_000,
)  # fmt: skip
#: So many broken files are tried between two looks at the whole database.
_BATCH = 20


def spots(node: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Return the path of every value in a document."""
    found = [at] if at else []
    children = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for key, value in children:
        found += spots(value, (*at, key))
    return found


def scribbled(document: Any, rng: random.Random) -> Any:
    """Return the document with one value replaced, dropped or doubled."""
    changed = copy.deepcopy(document)
    path = rng.choice(spots(changed))
    parent = changed
    for key in path[:-1]:
        parent = parent[key]
    deed = rng.random()
    if deed < 0.7:
        parent[path[-1]] = rng.choice(SCRIBBLES)
    elif deed < 0.85 or not isinstance(parent, list):
        del parent[path[-1]]
    else:
        parent.append(copy.deepcopy(parent[path[-1]]))
    return changed


def _bytes_broken(content: bytes, rng: random.Random) -> bytes:
    """Return the bytes cut, flipped, with pieces put in, taken out, swapped or said again."""
    size = len(content)
    at, to = sorted((rng.randrange(size), rng.randrange(size)))
    to = min(to, at + 400)
    deed = rng.randrange(8)
    if deed == 0:
        return content[: max(1, at)]
    if deed == 1:
        return content[:at] + bytes([rng.randrange(256)]) + content[at + 1 :]
    if deed == 2:
        return content[:at] + content[to:] or b"0"
    if deed == 3:
        return content[:to] + content[at:to] * rng.randrange(1, 6) + content[to:]
    if deed == 4:
        other = rng.randrange(size)
        return content[:at] + content[other : other + 40] + content[at + 40 :]
    if deed == 5:
        try:
            return content.decode().encode(rng.choice(("utf-16", "utf-16-le", "utf-32", "cp037", "utf-8-sig")))
        except UnicodeError:
            return content[::-1]
    return content[:at] + rng.choice(_PIECES) + content[at:]


def _cells_broken(content: bytes, rng: random.Random) -> bytes:
    """Return a table with one of its cells written over or swapped with another."""
    mark = b";" if content.split(b"\n", 1)[0].count(b";") > 2 else b","
    lines = [line.split(mark) for line in content.split(b"\n")]
    line = rng.choice(lines[:1] * 3 + lines)
    at = rng.randrange(len(line))
    if rng.random() < 0.3:
        other = rng.choice(lines)
        there = rng.randrange(len(other))
        line[at], other[there] = other[there], line[at]
    else:
        line[at] = rng.choice((str(rng.choice(SCRIBBLES)).encode(errors="replace"), *_PIECES))
    return b"\n".join(mark.join(one) for one in lines)


def _sheet_broken(content: bytes, rng: random.Random) -> bytes:
    """Return a workbook with cells written over."""
    book = load_workbook(io.BytesIO(content))
    sheet = book.worksheets[0]
    for _ in range(rng.randrange(1, 5)):
        value = rng.choice((None, "", -1, 10**15, 1e300, "x" * 500, True, "=1/0", "#REF!", "31.02.2026", "'"))
        sheet.cell(rng.randrange(1, sheet.max_row + 3), rng.randrange(1, sheet.max_column + 2)).value = value
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def broken(content: bytes, rng: random.Random) -> bytes:
    """Return a file broken in one to three ways, in its structure or in its bytes."""
    for _ in range(rng.choice((1, 1, 2, 3))):
        content = (rng.random() < 0.6 and _structure_broken(content, rng)) or _bytes_broken(content, rng) or b"0"
    return content


def _structure_broken(content: bytes, rng: random.Random) -> bytes | None:
    """Return the file with other values; None when it has no structure, or none any more."""
    try:
        if content[:1] in b"{[":
            return json.dumps(scribbled(json.loads(content), rng)).encode()
        if content[:2] == b"PK":
            return _sheet_broken(content, rng)
    except Exception:  # noqa: BLE001 - it was broken before: its readers raise whatever they trip over
        return None
    return _cells_broken(content, rng) if content[:1] not in b"\x89\xff" else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Importer:
    """One way in: good files, and what takes them. Raises Refused for what it does not take."""

    name: str
    samples: tuple[bytes, ...]
    take: Callable[[bytes], object]


@dataclass(slots=True, kw_only=True)
class Found:
    """What became of broken files."""

    files: int = 0
    refused: dict[str, int] = field(default_factory=dict)  #: by importer
    taken: dict[str, int] = field(default_factory=dict)
    wrong: list[str] = field(default_factory=list)  #: crashes, half-saved files, slow ones
    seconds: dict[str, float] = field(default_factory=dict)
    slowest_s: float = 0.0


def importers_of(member: Member) -> tuple[Importer, ...]:
    """Return every way in for files, for a workshop with the sample's things in it."""
    workshop = member.workshop
    plain = [path.read_bytes() for path in sorted((DEMO / "recipes").glob("*.json"))]
    tariffs = sorted([*(DEMO / "tariffs").glob("*.json"), *(DEMO / "carriers").rglob("*.json"), MARRAM])
    history = (DEMO / "history.csv").read_bytes().split(b"\n")
    kinds = {
        "supplies": [(DEMO / "supplies.json").read_bytes()],
        "products": [(DEMO / "products.json").read_bytes()],
        "products-csv": [write_products(products_file(workshop).products).encode()],
        "recipe": plain,
        "recipes": [recipes_file(workshop).model_dump_json().encode()],
        "tariff": [path.read_bytes() for path in tariffs],
        "orders": [(DEMO / "orders.csv").read_bytes(), b"\n".join(history[:40])],
    }  # fmt: skip
    sent = list(Arrival.objects.of(workshop).select_related("parcel__order")[:12])
    arrivals = "order,outcome,place,units,note,gave_back,gave_amount\n" + "".join(
        f"{row.parcel.order.number},{('whole', 'broken', 'late')[at % 3]},,1,told,,\n" for at, row in enumerate(sent)
    )
    picture = next((ROOT / "docs" / "screenshots").glob("*.png")).read_bytes()[:3_000]

    def kind(name: str) -> Callable[[bytes], object]:
        return lambda content: import_kind(workshop, name, content, by="t")

    def any_orders(content: bytes) -> object:
        opened = open_file(workshop, content)
        if opened.kind == "asked":
            # As a person who takes what was guessed.
            opened = open_file(workshop, content, matching=opened.matching, channel="fair")
        return import_opened(workshop=workshop, file=opened, names={})

    return (
        *(Importer(name=name, samples=tuple(samples), take=kind(name)) for name, samples in kinds.items()),
        Importer(name="orders of other programs", samples=tuple(one.content for one in FILES), take=any_orders),
        Importer(
            name="arrivals", samples=(arrivals.encode(),),
            take=lambda content: import_outcomes(by=member, content=content),
        ),
        Importer(
            name="workshop", samples=((DEMO / "workshop.json").read_bytes(),),
            take=lambda content: import_workshop(read_file(WorkshopFile, content, what="workshop file")),
        ),
        Importer(
            name="photo", samples=(picture,), take=lambda content: read_photo(base64.b64encode(content).decode()),
        ),
    )  # fmt: skip


class _SomeWaves:
    """Plans after every 15th file that was taken, and tells of orders that cannot be planned with what it said."""

    def __init__(self, found: Found) -> None:
        self._found, self._asked = found, 0

    def __call__(self, *, workshop: Workshop) -> int:
        self._asked += 1
        if self._asked % 15:
            return 0
        planned = run_wave(workshop=workshop)
        failed = sum(Wave.objects.of(workshop).order_by("-pk").values_list("failed", flat=True)[:1])
        if failed:
            self._found.wrong.append(f"{failed} orders cannot be planned any more")
        return planned


def let_in(importers: tuple[Importer, ...], files: int, seed: str, *, slow_s: float = 5.0) -> Found:
    """Give broken files to every importer in turn; what is taken is undone, what is refused must have left nothing."""
    rng, found = random.Random(seed), Found()
    with mock.patch("server.commands.intake.run_wave", _SomeWaves(found)):
        _let_in(importers, files, rng, found, slow_s)
    return found


def _let_in(importers: tuple[Importer, ...], files: int, rng: random.Random, found: Found, slow_s: float) -> None:
    while found.files < files:
        batch = [
            (one, broken(rng.choice(one.samples), rng))
            for one in (
                importers[(found.files + at) % len(importers)] for at in range(min(_BATCH, files - found.files))
            )
        ]
        found.files += len(batch)
        if _left_something(batch, found, slow_s, count=True):
            found.wrong += [
                f"{one.name} half saved: {content[:200]!r}"
                for one, content in batch
                if _left_something([(one, content)], found, slow_s, count=False)
            ] or [f"together half saved: {[one.name for one, _ in batch]}"]


def _left_something(batch: list[tuple[Importer, bytes]], found: Found, slow_s: float, *, count: bool) -> bool:
    """Import, undo what was taken, and tell whether the database is another than before."""
    with transaction.atomic():
        before = _everything()
        for importer, content in batch:
            begun, mark = time.perf_counter(), transaction.savepoint()
            counts = found.refused
            try:
                importer.take(content)
                counts = found.taken
                transaction.savepoint_rollback(mark)
            except Refused as error:
                # Not undone here: an importer that refuses has to have undone what it did.
                if not error.detail and count:
                    found.wrong.append(f"{importer.name} refused without a word: {content[:200]!r}")
            except Exception as error:  # noqa: BLE001 - that is what is looked for
                transaction.savepoint_rollback(mark)
                if count:
                    found.wrong.append(f"{importer.name} crashed: {type(error).__name__} {error}: {content[:300]!r}")
            taken = time.perf_counter() - begun
            if count:
                counts[importer.name] = counts.get(importer.name, 0) + 1
                found.seconds[importer.name] = found.seconds.get(importer.name, 0) + taken
                found.slowest_s = max(found.slowest_s, taken)
                if taken > slow_s:
                    found.wrong.append(f"{importer.name} took {taken:.1f} s: {content[:200]!r}")
        after = _everything()
        transaction.set_rollback(True)
    return before != after


def _everything() -> list[tuple[object, ...]]:
    with connection.cursor() as cursor:
        return fingerprint(cursor)
