"""Practice over HTTP: thin. Each person's own, and nobody else's."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from core.bench.practice import Lying, StepMinutes, TrickKind, lying_at
from core.bench.steps import BenchStep
from core.bench.weighing import SlipKind, WeightCheck
from core.messages import Text, say
from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer, pack_layers
from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.bench import practice
from server.bench.models import PracticeRun
from server.bench.selectors import names_of
from server.plans.screens import PieceView, drawing_of

__all__ = [
    "EndPracticeView",
    "PracticeListView",
    "PracticeReportView",
    "PracticeView",
    "PracticeWeighView",
]


class PracticeIn(Body):
    """The order to pack in practice."""

    order_id: int


class PracticeRow(BaseModel):
    """A practice of one's own."""

    id: int
    number: str
    begun_at: datetime
    ended_at: datetime | None


class PracticeTrick(BaseModel):
    """A trick and how it ended."""

    kind: TrickKind
    words: Text
    how: Literal["seen", "weighed", "missed"]  #: on the scale: "weighed"


class PracticeResult(BaseModel):
    """How a practice went."""

    tricks: list[PracticeTrick]
    false_alarms: int
    minutes: list[StepMinutes]


class PracticeOut(BaseModel):
    """A practice with everything its screen needs; what is not as planned is not told before the end."""

    id: int
    number: str
    candidate: Candidate
    pieces: list[PieceView]
    layers: tuple[PackLayer, ...]
    steps: tuple[BenchStep, ...]
    lying: list[tuple[Lying, ...]]  #: for each step, what lies on the table for each thing to take
    told: list[tuple[int, int]]  #: step and thing of what was told so far
    result: PracticeResult | None  #: None: it goes on


class ReportIn(Body):
    """Something at a step that is not as planned."""

    step: Annotated[int, Field(ge=0, le=500)]
    take: Annotated[int, Field(ge=0, le=100)]


class ReportOut(BaseModel):
    """Whether that is so; it is put right then."""

    right: bool


class PracticeWeighIn(Body):
    """Weigh; ``named``: what the weight is explained by, looked for and put right if it is so."""

    named: SlipKind | None = None


class PracticeWeighed(BaseModel):
    """What the scale says."""

    check: WeightCheck


class EndPracticeIn(Body):
    """Seconds hands took, by step."""

    spent: Annotated[
        dict[Annotated[int, Field(ge=0, le=500)], Annotated[int, Field(ge=0, le=86_400)]], Field(max_length=500)
    ] = {}


def _row(row: PracticeRun) -> PracticeRow:
    return PracticeRow(id=row.pk, number=row.order_number, begun_at=row.begun_at, ended_at=row.ended_at)


def _out(run: practice.Opened) -> PracticeOut:
    left = run.left
    names = names_of(run.row.workshop, run.parcel)
    return PracticeOut(
        id=run.row.pk,
        number=run.row.order_number,
        candidate=run.parcel.candidate,
        pieces=[drawing_of(piece) for piece in run.parcel.pieces],
        layers=pack_layers(run.parcel, names),
        steps=run.steps,
        lying=[lying_at(step, at, left) for at, step in enumerate(run.steps)],
        told=[(one["step"], one["take"]) for one in run.row.reports],
        result=_result(run) if run.row.ended_at is not None else None,
    )


def _result(run: practice.Opened) -> PracticeResult:
    outcomes, false, minutes = practice.result_of(run)
    return PracticeResult(
        tricks=[
            PracticeTrick(kind=one.kind, words=say(f"trick_{one.kind}"), how=one.how)  # type: ignore[arg-type]
            for one in outcomes
        ],
        false_alarms=false,
        minutes=list(minutes),
    )


class PracticeListView(MemberView):
    """GET and POST /api/practice"""

    @operation("practices")
    def get(self) -> Page[PracticeRow]:
        """Your own practice, newest first."""
        return self.paged(practice.runs_of(self.member), lambda page: [_row(row) for row in page])

    @operation("begin_practice", status=201)
    def post(self, body: PracticeIn) -> PracticeOut:
        """Pack an order in practice: nothing of it is real."""
        row = practice.begin(by=self.member, order_id=body.order_id)
        return _out(practice.opened(self.member, row.pk))


class PracticeView(MemberView):
    """GET and DELETE /api/practice/{id}"""

    @operation("practice")
    def get(self, run_id: int) -> PracticeOut:
        """One practice of your own."""
        return _out(practice.opened(self.member, run_id))

    @operation("delete_practice")
    def delete(self, run_id: int) -> Page[PracticeRow]:
        """Delete it: nothing of it is kept."""
        practice.opened(self.member, run_id).row.delete()
        return self.paged(practice.runs_of(self.member), lambda page: [_row(row) for row in page])


class PracticeReportView(MemberView):
    """POST /api/practice/{id}/report"""

    @operation("report_practice")
    def post(self, body: ReportIn, run_id: int) -> ReportOut:
        """Say that something is not as planned."""
        return ReportOut(right=practice.report(by=self.member, run_id=run_id, step=body.step, take=body.take))


class PracticeWeighView(MemberView):
    """POST /api/practice/{id}/weigh"""

    @operation("weigh_practice")
    def post(self, body: PracticeWeighIn, run_id: int) -> PracticeWeighed:
        """Put the parcel on the practice scale."""
        return PracticeWeighed(check=practice.weigh(by=self.member, run_id=run_id, named=body.named))


class EndPracticeView(MemberView):
    """POST /api/practice/{id}/end"""

    @operation("end_practice")
    def post(self, body: EndPracticeIn, run_id: int) -> PracticeOut:
        """End it, and see what was caught and what was not."""
        practice.end(by=self.member, run_id=run_id, spent=body.spent)
        return _out(practice.opened(self.member, run_id))
