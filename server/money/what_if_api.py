"""What if, over HTTP: begin, look, cancel, keep, share: thin."""

from typing import Annotated

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from pydantic import Field
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.downloads import paper, saved_file
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.views import MemberView
from server.formats.what_if_sheet import what_if_pdf
from server.money import what_ifs
from server.money.changes import WhatIfAsked
from server.money.sharing import what_if_csv, what_if_sheet
from server.money.what_if_screens import WhatIfBrief, WhatIfOut, brief_out, what_if_out
from server.money.what_ifs import found_what_if

__all__ = [
    "CancelWhatIfView", "KeepWhatIfView", "WhatIfCsvView", "WhatIfPdfView", "WhatIfView", "WhatIfsView",
]  # fmt: skip


class KeepIn(Body):
    """Under which name it is kept; empty: no longer."""

    name: Annotated[str, Field(max_length=120)]


class WhatIfsView(MemberView):
    """GET, POST /api/money/what-ifs"""

    owner_only = frozenset({"POST"})
    shows_costs = True

    @operation("what_ifs")
    def get(self) -> Page[WhatIfBrief]:
        """Changes that were tried: kept ones and the newest, newest first."""
        return self.paged(what_ifs.listed(self.workshop), lambda rows: map(brief_out, rows))

    @operation("begin_what_if", status=202)
    def post(self, body: WhatIfAsked) -> WhatIfOut:
        """Try a change on the orders of a period; the worker does."""
        return what_if_out(what_ifs.begin(by=self.member, asked=body))


class WhatIfView(MemberView):
    """GET, DELETE /api/money/what-ifs/{id}"""

    owner_only = frozenset({"DELETE"})
    shows_costs = True

    @operation("what_if")
    def get(self, what_if_id: int) -> WhatIfOut:
        """How far it is, and what came out."""
        return what_if_out(found_what_if(self.workshop, what_if_id))

    @operation("delete_what_if")
    def delete(self, what_if_id: int) -> WhatIfOut:
        """Delete it."""
        return what_if_out(what_ifs.forget(by=self.member, what_if_id=what_if_id))


class CancelWhatIfView(MemberView):
    """POST /api/money/what-ifs/{id}/cancel"""

    owner_only = frozenset({"POST"})
    shows_costs = True

    @operation("cancel_what_if")
    def post(self, what_if_id: int) -> WhatIfOut:
        """Try it no further."""
        return what_if_out(what_ifs.cancel(by=self.member, what_if_id=what_if_id))


class KeepWhatIfView(MemberView):
    """PUT /api/money/what-ifs/{id}/kept"""

    owner_only = frozenset({"PUT"})
    shows_costs = True

    @operation("keep_what_if")
    def put(self, body: KeepIn, what_if_id: int) -> WhatIfOut:
        """Keep what came out under a name."""
        return what_if_out(what_ifs.keep(by=self.member, what_if_id=what_if_id, name=body.name.strip()))


class WhatIfCsvView(MemberView):
    """GET /api/money/what-ifs/{id}/what-if.csv"""

    shows_costs = True

    @extend_schema(operation_id="what_if_csv", responses={(200, "text/csv"): OpenApiTypes.STR, **PROBLEMS})
    def get(self, request: Request, what_if_id: int) -> HttpResponse:
        """What came out as CSV."""
        row = found_what_if(self.workshop, what_if_id)
        return saved_file(what_if_csv(self.workshop, row), "text/csv", f"what-if-{row.pk}.csv")


class WhatIfPdfView(MemberView):
    """GET /api/money/what-ifs/{id}/what-if.pdf"""

    shows_costs = True

    @extend_schema(operation_id="what_if_pdf", responses={(200, "application/pdf"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request, what_if_id: int) -> HttpResponse:
        """What came out as PDF, A4."""
        row = found_what_if(self.workshop, what_if_id)
        return paper(what_if_pdf(what_if_sheet(self.workshop, row)), f"what-if-{row.pk}.pdf")
