"""Whether everything runs: for whoever operates it, and for tools that watch (docs/operate.md)."""

import tomllib
from datetime import timedelta
from functools import lru_cache
from typing import Any, Literal

from django.db import DatabaseError, connection
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from procrastinate.contrib.django.models import ProcrastinateWorker
from pydantic import BaseModel
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.config.env import ROOT

__all__ = ["HealthView"]

#: A worker tells that it lives every ten seconds; one that was silent for so long is gone.
_SILENT = timedelta(seconds=60)


class HealthOut(BaseModel):
    """What runs and what does not."""

    version: str
    database: Literal["ok", "down"]
    worker: Literal["ok", "down", "unknown"]  #: plans in the background; down: plans are made when they are opened


@lru_cache(maxsize=1)
def _version() -> str:
    return str(tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["project"]["version"])


class HealthView(APIView):
    """GET /api/health"""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]

    @extend_schema(operation_id="health", responses={200: HealthOut, 503: HealthOut}, auth=[])
    def get(self, request: Request) -> Response:
        """Whether database and worker run, and which version this is. 503 when the database is down."""
        try:
            connection.ensure_connection()
            alive = ProcrastinateWorker.objects.filter(last_heartbeat__gte=timezone.now() - _SILENT).exists()
        except DatabaseError:
            return Response(
                HealthOut(version=_version(), database="down", worker="unknown").model_dump(mode="json"), status=503
            )
        return Response(
            HealthOut(version=_version(), database="ok", worker="ok" if alive else "down").model_dump(mode="json")
        )
