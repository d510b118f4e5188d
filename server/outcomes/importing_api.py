"""Arrivals from a file, and a claim on paper, over HTTP: thin."""

from typing import Annotated, Literal

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.downloads import paper
from server.api.operation import PROBLEMS, operation
from server.api.uploads import uploaded_bytes
from server.api.views import MemberView
from server.formats.claim_sheet import claim_pdf
from server.outcomes.importing import Line, import_outcomes, preview
from server.outcomes.papers import claim_sheet

__all__ = ["ClaimPdfView", "ImportOutcomesView", "PreviewOutcomesView"]


class OutcomesFileIn(Body):
    """A file as base64."""

    name: Annotated[str, Field(max_length=200)]
    content: Annotated[str, Field(min_length=4, max_length=6_000_000)]


class OutcomeLine(BaseModel):
    """One line of the file."""

    line: int
    order: str
    outcome: str
    state: Literal["new", "changes", "same", "error"]
    problem: str


class OutcomeLines(BaseModel):
    """What a file does, line by line."""

    lines: list[OutcomeLine]
    new: int
    changes: int
    same: int
    errors: int


def _lines(found: list[Line]) -> OutcomeLines:
    counts = {state: sum(one.state == state for one in found) for state in ("new", "changes", "same", "error")}
    return OutcomeLines(
        lines=[
            OutcomeLine(line=one.line, order=one.order, outcome=one.outcome, state=one.state, problem=one.problem)
            for one in found
        ],
        new=counts["new"], changes=counts["changes"], same=counts["same"], errors=counts["error"],
    )  # fmt: skip


class PreviewOutcomesView(MemberView):
    """POST /api/arrivals/import/preview"""

    @operation("preview_outcomes")
    def post(self, body: OutcomesFileIn) -> OutcomeLines:
        """What importing a file of arrivals would do, line by line; nothing is kept."""
        return _lines(preview(self.workshop, uploaded_bytes(body.name, body.content)))


class ImportOutcomesView(MemberView):
    """POST /api/arrivals/import"""

    @operation("import_outcomes")
    def post(self, body: OutcomesFileIn) -> OutcomeLines:
        """Import a file of arrivals: every line, or none when one has an error."""
        return _lines(import_outcomes(by=self.member, content=uploaded_bytes(body.name, body.content)))


class ClaimPdfView(MemberView):
    """GET /api/claims/{id}/claim.pdf"""

    @extend_schema(operation_id="claim_pdf", responses={(200, "application/pdf"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request, claim_id: int) -> HttpResponse:
        """The claim as PDF, A4: order, label, weight, recipe version, photos."""
        sheet, number = claim_sheet(self.workshop, claim_id)
        return paper(claim_pdf(sheet), f"claim-{number}.pdf")
