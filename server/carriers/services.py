"""Taking in tariff files."""

from django.db import transaction

from server.api.problems import Refused
from server.carriers.models import TariffVersion
from server.formats.tariff import TariffFile
from server.workshops.models import Workshop, one_at_a_time

__all__ = ["import_tariff"]


@transaction.atomic
def import_tariff(*, workshop: Workshop, file: TariffFile) -> bool:
    """Take in one tariff version. Returns False when the very same one is here already.

    Raises Refused when another document stands under that version or date.
    """
    if file.currency != workshop.currency:
        raise Refused(
            f"The tariff is in {file.currency}, the workshop counts in {workshop.currency}. Convert the prices first.",
            code="other_currency",
            status=422,
            field="currency",
        )
    document = file.model_dump(mode="json")
    one_at_a_time(workshop)
    mine = TariffVersion.objects.of(workshop).filter(carrier=file.carrier)
    held = mine.filter(version=file.tariff_version).first()
    if held is not None:
        if held.document == document:
            return False
        raise Refused(
            f"{file.carrier_name} {file.tariff_version} is here already with other prices. Give the new one another version.",
            code="version_exists",
            field="tariff_version",
        )
    if mine.filter(valid_from=file.valid_from).exists():
        raise Refused(
            f"{file.carrier_name} has a tariff from {file.valid_from} already.", code="date_taken", field="valid_from"
        )
    TariffVersion.objects.of(workshop).create(
        workshop=workshop,
        carrier=file.carrier,
        version=file.tariff_version,
        valid_from=file.valid_from,
        document=document,
    )
    return True
