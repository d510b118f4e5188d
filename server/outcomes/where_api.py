"""What broke where, what would help, and taking it, over HTTP: thin."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from core.messages import Text, say
from core.outcomes.change import ChangeCode
from core.outcomes.model import Group, Place
from core.outcomes.places import Cause
from core.outcomes.suggest import BandDifference, Suggestion
from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.outcomes import where
from server.outcomes.screens import CountedOut, counted_out

__all__ = ["DamageListView", "RecipeDamageView", "SuggestionsView"]


_SHARE = Decimal("0.000001")


class RecipeDamageRow(BaseModel):
    """A recipe that was sent."""

    id: int
    name: str
    known: int
    damaged: int
    on_the_way: int


class DamageList(BaseModel):
    """Every recipe that was sent, most damaged first."""

    recipes: list[RecipeDamageRow]


class DamageListView(MemberView):
    """GET /api/arrivals/recipes"""

    @operation("damage_by_recipe")
    def get(self) -> DamageList:
        """Every recipe that was sent, with how its parcels arrived."""
        rows = where.damage_by_recipe(self.workshop)
        return DamageList(
            recipes=[
                RecipeDamageRow(
                    id=one.id, name=one.name, known=one.known, damaged=one.damaged, on_the_way=one.on_the_way
                )
                for one in rows
            ]
        )


class SpotCount(BaseModel):
    """Breakages at one edge or corner."""

    spot: str
    count: int


class BreakPlace(BaseModel):
    """Breakages at one place, and the interval of their share."""

    place: Place
    words: Text
    count: int
    low: Decimal
    high: Decimal
    spots: list[SpotCount]


class WhereOut(BaseModel):
    """Breakages by place."""

    broken: int
    placed: int
    spoiled: int
    leading: Cause | None
    by_chance: Decimal | None
    places: list[BreakPlace]


class RunOut(BaseModel):
    """Versions that protect alike."""

    first: int
    last: int
    current: bool
    since: date
    reason: str
    counted: CountedOut
    where: WhereOut


class KeyCount(BaseModel):
    """The count under one key of a group."""

    key: str
    counted: CountedOut


class GroupOut(BaseModel):
    """Counts by one group."""

    group: Group
    rows: list[KeyCount]


class RecipeDamageOut(BaseModel):
    """All that is known of how a recipe's parcels arrived."""

    id: int
    name: str
    version: int
    headline: Text
    rate: Decimal
    prior: Decimal
    runs: list[RunOut]
    groups: list[GroupOut]
    sent_a_month: int
    container: str
    outer_um: tuple[int, int, int] | None
    unheard: int


def _where(found: Any) -> WhereOut:
    return WhereOut(
        broken=found.broken, placed=found.placed, spoiled=found.spoiled, leading=found.leading,
        by_chance=found.by_chance,
        places=[
            BreakPlace(
                place=one.place, words=say(f"place_{one.place}"), count=one.count, low=one.low, high=one.high,
                spots=[SpotCount(spot=spot, count=count) for spot, count in one.spots],
            )
            for one in found.places
        ],
    )  # fmt: skip


def _recipe_out(known: where.Known) -> RecipeDamageOut:
    return RecipeDamageOut(
        id=known.recipe.pk,
        name=known.recipe.name,
        version=known.version.number,
        headline=where.headline_of(known),
        rate=known.rate,
        prior=known.prior,
        runs=[
            RunOut(
                first=run.first, last=run.last, current=run.current, since=run.since, reason=run.reason,
                counted=counted_out(run.counted), where=_where(run.where),
            )
            for run in known.runs
        ],
        groups=[
            GroupOut(group=group, rows=[KeyCount(key=key, counted=counted_out(one)) for key, one in rows.items()])
            for group, rows in known.groups.items()
        ],
        sent_a_month=known.sent_a_month,
        container=known.container,
        outer_um=known.outer_um,
        unheard=known.unheard,
    )  # fmt: skip


class RecipeDamageView(MemberView):
    """GET /api/recipes/{id}/arrivals"""

    @operation("recipe_damage")
    def get(self, recipe_id: int) -> RecipeDamageOut:
        """How a recipe's parcels arrived: by place, version, carrier, zone, season."""
        return _recipe_out(where.known_of(self.workshop, recipe_id))


class SuggestionOut(BaseModel):
    """A change with what it costs and saves a parcel."""

    code: ChangeCode
    words: list[Text]
    bands: list[BandDifference]
    extra_cost: Decimal
    rate: Decimal
    rate_after: Decimal
    as_version: int | None
    at_risk: Decimal
    saves_cost: Decimal
    saves_cost_low: Decimal
    saves_cost_high: Decimal
    gain_cost: Decimal
    gain_a_month_cost: Decimal
    grams: Decimal
    steps_passed: int  #: bands whose postage goes up a step or to another service
    verdict: Literal["pays", "does_not", "not_enough"]


class SuggestionsOut(BaseModel):
    """What could be changed for a place, best first."""

    cause: Cause
    place: Text
    leads: bool
    base_version: int
    sent_a_month: int
    suggestions: list[SuggestionOut]


class SuggestionIn(Body):
    """The change to make a version of; for a trial it is packed only by orders the trial picks."""

    cause: Cause
    code: ChangeCode
    base_version: Annotated[int, Field(ge=1)]
    for_trial: bool = False


class SuggestionTaken(BaseModel):
    """The version that was made."""

    version: int
    reason: str


def _suggestion(one: Suggestion, sent_a_month: int) -> SuggestionOut:
    whole = sum((band.share for band in one.bands), Decimal(0)) or Decimal(1)
    grams = sum((band.share * band.grams for band in one.bands), Decimal(0)) / whole
    return SuggestionOut(
        code=one.draft.code,
        words=list(one.draft.words),
        bands=list(one.bands),
        extra_cost=one.extra,
        rate=one.saving.rate.quantize(_SHARE),
        rate_after=one.saving.after.quantize(_SHARE),
        as_version=one.saving.as_version,
        at_risk=one.saving.at_risk,
        saves_cost=one.saving.expected,
        saves_cost_low=one.saving.low,
        saves_cost_high=one.saving.high,
        gain_cost=one.gain,
        gain_a_month_cost=one.gain * sent_a_month,
        grams=grams.quantize(Decimal("0.1")),
        steps_passed=sum(band.step_passed for band in one.bands),
        verdict=one.verdict,
    )


class SuggestionsView(MemberView):
    """GET and POST /api/recipes/{id}/suggestions"""

    shows_costs = True
    owner_only = frozenset({"POST"})

    @operation(
        "suggestions",
        parameters=[
            OpenApiParameter("cause", str, enum=list(where.CAUSES), description="A place; the leading without")
        ],
    )
    def get(self, recipe_id: int) -> SuggestionsOut:
        """What could be changed where goods break: drafted, planned again, costed."""
        known = where.known_of(self.workshop, recipe_id)
        leading = known.run.where.leading
        given = self.request.query_params.get("cause") or leading or known.run.where.places[0].place
        cause = next((one for one in where.CAUSES if one == given), None)
        if cause is None:
            raise Refused(
                f"cause is one of {', '.join(where.CAUSES)}; given: {given[:20]}.",
                code="not_valid", status=400, field="cause",
            )  # fmt: skip
        found = where.suggestions_of(self.workshop, known, cause)  # type: ignore[arg-type]
        return SuggestionsOut(
            cause=cause,  # type: ignore[arg-type]
            place=say(f"place_{cause}"),
            leads=cause == leading,
            base_version=known.version.number,
            sent_a_month=known.sent_a_month,
            suggestions=[_suggestion(one, known.sent_a_month) for one in found],
        )

    @operation("take_suggestion", status=201)
    def post(self, body: SuggestionIn, recipe_id: int) -> SuggestionTaken:
        """Make the next version of a recipe from a suggestion."""
        row = where.save_suggestion(by=self.member, recipe_id=recipe_id, **body.model_dump())
        return SuggestionTaken(version=row.number, reason=row.reason)
