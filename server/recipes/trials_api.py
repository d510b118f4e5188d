"""Tests of recipe versions over HTTP: thin."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from core.designing.trials import DropPlace
from server.api.bodies import Body
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.views import MemberView
from server.formats.photo import read_photo
from server.recipes import services
from server.recipes.models import Recipe, Trial

__all__ = ["TrialPhotoView", "TrialsView"]

TrialKind = Literal["shake", "flip", "drop", "throw", "posted"]


class TrialIn(Body):
    """What was done to a parcel of this version, and whether it passed."""

    request_key: UUID
    version: int
    kind: TrialKind
    units: Annotated[int, Field(ge=1, le=500)]
    passed: bool
    place: DropPlace | Literal[""] = ""
    drop_mm: Annotated[int, Field(ge=50, le=3_000)] | None = None
    note: Annotated[str, Field(max_length=400)] = ""
    photo: Annotated[str, Field(max_length=4_200_000)] = ""


class TrialOut(BaseModel):
    """One test as it was written down."""

    id: int
    version: int
    kind: TrialKind
    units: int
    passed: bool
    place: str
    drop_mm: int | None
    note: str
    has_photo: bool
    author: str
    at: datetime


def _out(row: Trial) -> TrialOut:
    plain = ("kind", "units", "passed", "place", "drop_mm", "note", "at")
    return TrialOut(
        **{name: getattr(row, name) for name in plain},
        id=row.pk,
        version=row.version.number,
        has_photo=bool(row.photo_type),
        author=row.author_name,
    )


class TrialsView(MemberView):
    """GET and POST /api/recipes/{id}/trials"""

    @operation("trials")
    def get(self, recipe_id: int) -> Page[TrialOut]:
        """Every test of a recipe's versions, newest first."""
        if not Recipe.objects.of(self.workshop).filter(pk=recipe_id).exists():
            raise Http404
        rows = Trial.objects.of(self.workshop).filter(version__recipe_id=recipe_id)
        return self.paged(rows.select_related("version").defer("photo"), lambda page: [_out(row) for row in page])

    @operation("add_trial", status=201)
    def post(self, body: TrialIn, recipe_id: int) -> TrialOut:
        """Write a test of the current version down. Sent twice, it stands once."""
        photo = read_photo(body.photo) if body.photo else None
        facts = services.TrialFacts(**body.model_dump(exclude={"photo"}), photo=photo)
        row = services.add_trial(by=self.member, recipe_id=recipe_id, facts=facts)
        return _out(row)


class TrialPhotoView(MemberView):
    """GET /api/trials/{id}/photo"""

    @extend_schema(operation_id="trial_photo", responses={(200, "image/*"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request, trial_id: int) -> HttpResponse:
        """The photo of a test."""
        row = Trial.objects.of(self.workshop).filter(pk=trial_id).exclude(photo_type="").first()
        if row is None or row.photo is None:
            raise Http404
        return HttpResponse(bytes(row.photo), content_type=row.photo_type)
