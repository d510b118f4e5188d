"""What the bench taught, over HTTP: thin."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from core.messages import Text
from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.outcomes.learned import Figure, Kind, Offer, offers
from server.outcomes.learned_effects import Effect, effects_of
from server.outcomes.learned_taking import figures_of, take, undo
from server.outcomes.models import LearnedValue

__all__ = ["LearnedEffectsView", "LearnedView", "TakeLearnedView", "UndoLearnedView"]


class OfferedOut(BaseModel):
    """A value that differs from what plans use."""

    kind: Kind
    subject: str
    name: str
    figures: list[Figure]
    count: int
    error: Decimal
    left_out: int


class TakenOut(BaseModel):
    """A value that was taken, with what spoke for it."""

    id: int
    kind: Kind
    subject: str
    name: str
    figures: list[Figure]
    count: int
    taken_at: datetime
    taken_by: str
    undone_at: datetime | None
    undone_by: str


class OfferedList(BaseModel):
    """All that is offered now."""

    offers: list[OfferedOut]


class LearnedTakeIn(Body):
    """The offer to take, with the figures that were seen."""

    request_key: UUID
    kind: Kind
    subject: Annotated[str, Field(max_length=60)]
    after: Annotated[dict[Annotated[str, Field(max_length=20)], Decimal], Field(max_length=4)]


class LearnedSubject(Body):
    """Which offer."""

    kind: Kind
    subject: Annotated[str, Field(max_length=60)]


class LearnedEffect(BaseModel):
    """What taking it changes for one order size, after less before."""

    recipe: str
    band: Text
    units: int
    cost: Decimal
    grams: Decimal
    service_was: str
    service: str


class LearnedEffects(BaseModel):
    """What taking an offer changes in plans."""

    effects: list[LearnedEffect]


def _offered(one: Offer) -> OfferedOut:
    return OfferedOut(
        kind=one.kind, subject=one.subject, name=one.name, figures=list(one.figures), count=one.count,
        error=one.error, left_out=one.left_out,
    )  # fmt: skip


def _taken(row: LearnedValue) -> TakenOut:
    return TakenOut(
        id=row.pk,
        kind=row.kind,  # type: ignore[arg-type]
        subject=row.subject,
        name=row.name,
        figures=list(figures_of(row)),
        count=row.evidence["count"],
        taken_at=row.taken_at,
        taken_by=row.taken_by,
        undone_at=row.undone_at,
        undone_by=row.undone_by,
    )


def _effect(one: Effect) -> LearnedEffect:
    return LearnedEffect(
        recipe=one.recipe, band=one.band, units=one.units, cost=one.cost, grams=one.grams,
        service_was=one.service_was, service=one.service,
    )  # fmt: skip


class LearnedView(MemberView):
    """GET /api/learned"""

    @operation("learned")
    def get(self) -> OfferedList:
        """What the bench taught and nobody took yet."""
        return OfferedList(offers=[_offered(one) for one in offers(self.workshop)])


class TakeLearnedView(MemberView):
    """GET and POST /api/learned/taken"""

    owner_only = frozenset({"POST"})

    @operation("learned_taken")
    def get(self) -> Page[TakenOut]:
        """What was taken, newest first."""
        rows = LearnedValue.objects.of(self.workshop)
        return self.paged(rows, lambda page: [_taken(row) for row in page])

    @operation("take_learned", status=201)
    def post(self, body: LearnedTakeIn) -> TakenOut:
        """Take a value: plans go by it from now on. Sent twice, it is taken once."""
        return _taken(take(by=self.member, **body.model_dump()))


class UndoLearnedView(MemberView):
    """POST /api/learned/taken/{id}/undo"""

    owner_only = frozenset({"POST"})

    @operation("undo_learned")
    def post(self, value_id: int) -> TakenOut:
        """Put the value of before in its place."""
        return _taken(undo(by=self.member, value_id=value_id))


class LearnedEffectsView(MemberView):
    """POST /api/learned/effects"""

    @operation("learned_effects")
    def post(self, body: LearnedSubject) -> LearnedEffects:
        """What taking a value would change in plans; nothing is kept."""
        found = next(
            (one for one in offers(self.workshop) if (one.kind, one.subject) == (body.kind, body.subject)), None
        )
        return LearnedEffects(
            effects=[_effect(one) for one in effects_of(self.workshop, found)] if found is not None else []
        )
