"""Trials of recipe versions over HTTP: thin."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated, Literal
from uuid import UUID

from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from core.outcomes.trials import needed_each
from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.outcomes import trials
from server.outcomes.models import VersionTrial
from server.outcomes.screens import CountedOut, counted_out

__all__ = ["EndTrialView", "NeededView", "VersionTrialView", "VersionTrialsView"]

VersionTrialKind = Literal["orders", "shake", "flip", "drop", "throw", "posted"]
_Rate = Annotated[Decimal, Field(ge=0, le=1, decimal_places=4)]


class VersionTrialIn(Body):
    """What a trial is to compare, and how large the difference is hoped to be."""

    request_key: UUID
    recipe_id: int
    versions: Annotated[list[Annotated[int, Field(ge=1)]], Field(min_length=2, max_length=6)]
    kind: VersionTrialKind
    question: Annotated[str, Field(min_length=3, max_length=200)]
    rate: _Rate
    hoped: _Rate
    each: Annotated[int, Field(ge=trials.LEAST_EACH, le=100_000)] | None = None


class ArmOut(BaseModel):
    """One version in a trial."""

    version: int
    reason: str
    in_force: bool
    picked: int
    more: int  #: so many more must be known
    counted: CountedOut


class VersionTrialOut(BaseModel):
    """A trial and where it stands. No winner is named before every version has its number."""

    id: int
    recipe_id: int
    recipe: str
    kind: VersionTrialKind
    question: str
    rate: Decimal
    hoped: Decimal
    each: int
    began_at: datetime
    began_by: str
    ended_at: datetime | None
    ended_by: str
    taken: int | None
    arms: list[ArmOut]
    verdict: Literal["not_yet", "leads", "no_difference"]
    leads: int | None
    p: Decimal | None


class EndTrialIn(Body):
    """Which version to pack by from now on; none: as before."""

    take: Annotated[int, Field(ge=1)] | None = None


class NeededOut(BaseModel):
    """How many of each version tell two rates apart."""

    each: int


def _trial_out(state: trials.TrialState) -> VersionTrialOut:
    trial = state.trial
    more = dict(state.verdict.more)
    plain = ("kind", "question", "rate", "hoped", "each", "began_at", "began_by", "ended_at", "ended_by")
    return VersionTrialOut(
        **{name: getattr(trial, name) for name in plain},
        id=trial.pk,
        recipe_id=trial.recipe_id,
        recipe=trial.recipe.name,
        taken=trial.taken.number if trial.taken is not None else None,
        arms=[
            ArmOut(
                version=one.version.number, reason=one.version.reason, in_force=one.version.in_force,
                picked=one.picked, more=more.get(one.version.number, 0), counted=counted_out(one.counted),
            )
            for one in state.arms
        ],
        verdict=state.verdict.code,
        leads=state.verdict.version,
        p=state.verdict.p,
    )  # fmt: skip


class VersionTrialsView(MemberView):
    """GET and POST /api/version-trials"""

    owner_only = frozenset({"POST"})

    @operation("version_trials")
    def get(self) -> Page[VersionTrialOut]:
        """Every trial, newest first."""
        rows = VersionTrial.objects.of(self.workshop).select_related("recipe", "taken")
        return self.paged(rows, lambda page: [_trial_out(trials.state_of(self.workshop, one)) for one in page])

    @operation("begin_version_trial", status=201)
    def post(self, body: VersionTrialIn) -> VersionTrialOut:
        """Begin a trial; its size is fixed now. Sent twice, it begins once."""
        trial = trials.begin(by=self.member, wanted=trials.Wanted(**body.model_dump()))
        return _trial_out(trials.state_of(self.workshop, trial))


class VersionTrialView(MemberView):
    """GET /api/version-trials/{id}"""

    @operation("version_trial")
    def get(self, trial_id: int) -> VersionTrialOut:
        """One trial and where it stands."""
        return _trial_out(trials.state_of(self.workshop, _found(self, trial_id)))


class EndTrialView(MemberView):
    """POST /api/version-trials/{id}/end"""

    owner_only = frozenset({"POST"})

    @operation("end_version_trial")
    def post(self, body: EndTrialIn, trial_id: int) -> VersionTrialOut:
        """End a trial, and pack by one of its versions from now on."""
        trials.end(by=self.member, trial_id=trial_id, take=body.take)
        return _trial_out(trials.state_of(self.workshop, _found(self, trial_id)))


class NeededView(MemberView):
    """GET /api/version-trials/needed"""

    @operation(
        "trial_needed",
        parameters=[
            OpenApiParameter("rate", float, required=True, description="Share damaged now, 0 to 1"),
            OpenApiParameter("hoped", float, required=True, description="Share hoped for, 0 to 1"),
            OpenApiParameter("versions", int, description="How many are compared; 2 without"),
        ],
    )
    def get(self) -> NeededOut:
        """How many of each version must be known to tell the two apart."""
        rate, hoped = (self._share(name) for name in ("rate", "hoped"))
        versions = self._number("versions", 2, 6)
        if rate == hoped or versions < 2:
            raise Refused(
                "The two rates are the same: no number of parcels tells them apart.",
                code="not_valid", status=400, field="hoped",
            )  # fmt: skip
        return NeededOut(each=needed_each(rate, hoped, versions))

    def _share(self, name: str) -> Decimal:
        given = self.request.query_params.get(name, "")
        try:
            share = Decimal(given)
        except ArithmeticError:
            share = Decimal("NaN")
        if not share.is_finite() or not 0 <= share <= 1:
            raise Refused(
                f"{name} is a share from 0 to 1; given: {given[:20]}.", code="not_valid", status=400, field=name
            )
        return share


def _found(view: MemberView, trial_id: int) -> VersionTrial:
    row = VersionTrial.objects.of(view.workshop).select_related("recipe", "taken").filter(pk=trial_id).first()
    if row is None:
        raise Refused("There is no such trial in your workshop.", code="not_found", status=404)
    return row
