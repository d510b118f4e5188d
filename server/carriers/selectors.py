"""Reading tariffs as the core wants them."""

import json
from functools import lru_cache

from core.tariffs.model import Tariff
from server.carriers.models import TariffVersion
from server.formats.tariff import TariffFile
from server.workshops.models import Workshop

__all__ = ["core_tariffs", "file_of"]


def core_tariffs(workshop: Workshop) -> tuple[Tariff, ...]:
    """Return all versions of all carriers' tariffs; the core picks the one current."""
    rows = TariffVersion.objects.of(workshop).order_by("carrier", "valid_from")
    return tuple(_read(json.dumps(row.document)) for row in rows)


@lru_cache(maxsize=64)
def _read(document: str) -> Tariff:
    """A list is read once, not for every quote: it is frozen, and another document is another text."""
    return TariffFile.model_validate_json(document).core()


def file_of(row: TariffVersion) -> TariffFile:
    """Return a version as the file it came from."""
    return TariffFile.model_validate(row.document)
