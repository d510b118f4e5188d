"""Arrivals from a file: read line by line, shown, imported whole or not at all (outcomes)."""

from dataclasses import dataclass
from typing import Literal

from django.db import transaction

from core.outcomes.model import Harm
from server.api.problems import Fault, Refused
from server.formats.outcomes_csv import ToldLine, read_outcomes
from server.outcomes.answering import Told, answer_differs, write_answer
from server.outcomes.counting import recount
from server.outcomes.models import Arrival
from server.outcomes.trials import look_at
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["Line", "import_outcomes", "preview"]

LineState = Literal["new", "changes", "same", "error"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One line of the file and what importing it would do."""

    line: int
    order: str
    outcome: str
    state: LineState
    problem: str = ""


def preview(workshop: Workshop, content: bytes) -> list[Line]:
    """Return what each line would do; nothing is kept."""
    return [line for line, _, _ in _matched(workshop, read_outcomes(content))]


@transaction.atomic
def import_outcomes(*, by: Member, content: bytes) -> list[Line]:
    """Import a file: every line, or none when one has an error. Imported twice, it is imported once.

    Raises Refused (file_faults) with every error.
    """
    lock_workshop(by.workshop)
    found = _matched(by.workshop, read_outcomes(content))
    faults = [Fault(path=f"line {line.line}", message=line.problem) for line, _, _ in found if line.state == "error"]
    done, versions = set[int](), set[int]()
    for line, row, told in found:
        if row is None or told is None or faults:
            continue
        if row.pk in done:
            faults.append(Fault(path=f"line {line.line}", message=f"{line.order} stands in the file twice"))
            continue
        done.add(row.pk)
        if line.state in ("new", "changes"):
            try:
                versions |= write_answer(by.workshop, row, told, by=by.name, source=Arrival.Source.FILE)
            except Refused as wrong:
                faults.append(Fault(path=f"line {line.line}", message=str(wrong)))
    if faults:
        raise Refused(
            f"{faults[0].path}: {faults[0].message}. Nothing was imported.",
            code="file_faults", status=422, field="content", faults=faults,
        )  # fmt: skip
    recount(by.workshop, versions)
    look_at(by.workshop)
    return [line for line, _, _ in found]


def _matched(workshop: Workshop, lines: tuple[ToldLine, ...]) -> list[tuple[Line, Arrival | None, Told | None]]:
    """Find each line's parcel, in one query for all of them."""
    numbers = {line.values.get("order", "") for line in lines} - {""}
    tracking = {line.values.get("tracking", "") for line in lines} - {""}
    rows = Arrival.objects.of(workshop).select_related("parcel__order").prefetch_related("harms")
    by_order: dict[str, list[Arrival]] = {}
    for row in rows.filter(parcel__order__number__in=numbers).order_by("parcel__part"):
        by_order.setdefault(row.parcel.order.number, []).append(row)
    by_tracking = {row.parcel.tracking: row for row in rows.filter(parcel__tracking__in=tracking)}
    return [_one(line, by_order, by_tracking) for line in lines]


def _one(
    line: ToldLine, by_order: dict[str, list[Arrival]], by_tracking: dict[str, Arrival]
) -> tuple[Line, Arrival | None, Told | None]:
    values = line.values
    name = values.get("order") or values.get("tracking", "")

    def as_line(state: LineState, problem: str = "") -> Line:
        return Line(line=line.line, order=name[:40], outcome=values["outcome"][:12], state=state, problem=problem)

    if line.problems:
        return as_line("error", "; ".join(line.problems)), None, None
    row = by_tracking.get(values.get("tracking", ""))
    if row is None:
        mine = by_order.get(values.get("order", ""), [])
        fit = [one for one in mine if line.part in (None, one.parcel.part)]
        if len(fit) > 1:
            return as_line("error", f"{name[:40]} has {len(fit)} parcels: say which in part"), None, None
        row = fit[0] if fit else None
    if row is None:
        return as_line("error", f"no parcel of {name[:40]} has left"), None, None
    told = _told(line)
    if row.source == Arrival.Source.NONE:
        return as_line("new"), row, told
    return as_line("changes" if answer_differs(row, told) else "same"), row, told


def _told(line: ToldLine) -> Told:
    values = line.values
    outcome = values["outcome"]
    hurt = outcome in ("marked", "broken", "spoiled")
    place = values.get("place") or None
    harm = Harm(
        kind=outcome if hurt else "broken",  # type: ignore[arg-type]
        place=place if outcome != "spoiled" else None,  # type: ignore[arg-type]
        spot=values.get("spot", "")[:40], sku=values.get("sku", "")[:40], units=line.units,
    )  # fmt: skip
    told_of = hurt and (place or values.get("sku") or values.get("units"))
    return Told(
        outcome=outcome,  # type: ignore[arg-type]
        harms=(harm,) if told_of else (),
        note=values.get("note", "")[:500], gave_back=values.get("gave_back", ""), gave_amount=line.gave_amount,
        delivered_on=line.delivered_on,
    )  # fmt: skip
