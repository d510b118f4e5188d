"""A workshop's own judgements: the ordinary ones, and what it set instead."""

from dataclasses import fields, replace
from decimal import Decimal
from typing import Any

from core.judgements import ORDINARY, Judgements
from server.workshops.models import Workshop

__all__ = ["judgements_of"]

_WHOLE = {one.name for one in fields(Judgements) if isinstance(getattr(ORDINARY, one.name), int)}


def judgements_of(workshop: Workshop) -> Judgements:
    """Return what the workshop judges."""
    own: dict[str, Any] = {
        name: int(value) if name in _WHOLE else Decimal(value) for name, value in workshop.judgements.items()
    }
    return replace(ORDINARY, **own)
