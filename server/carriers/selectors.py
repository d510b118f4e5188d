"""Reading tariffs as the core wants them."""

from core.tariffs.model import Tariff
from server.carriers.models import TariffVersion
from server.formats.tariff import TariffFile
from server.workshops.models import Workshop

__all__ = ["core_tariffs", "file_of"]


def core_tariffs(workshop: Workshop) -> tuple[Tariff, ...]:
    """Return all versions of all carriers' tariffs; the core picks the one current."""
    rows = TariffVersion.objects.of(workshop).order_by("carrier", "valid_from")
    return tuple(file_of(row).core() for row in rows)


def file_of(row: TariffVersion) -> TariffFile:
    """Return a version as the file it came from."""
    return TariffFile.model_validate(row.document)
