"""Importing tariff files, changing and removing those nobody was sent by."""

from dataclasses import dataclass
from datetime import date

from django.db import transaction
from django.db.models import Q

from core.messages import Message
from core.tariffs.oddities import oddities_of
from server.api.problems import Refused
from server.carriers.models import Label, TariffVersion
from server.carriers.selectors import file_of
from server.formats.base import read_value
from server.formats.tariff import TariffFile
from server.formats.tariff_steps import with_steps
from server.workshops.happened import tell_anything
from server.workshops.models import Workshop, lock_workshop

__all__ = ["TakenIn", "import_tariff", "labels_by", "remove_tariff", "take_in_steps"]


@dataclass(frozen=True, slots=True, kw_only=True)
class TakenIn:
    """What became of a file: the version it stands for, whether it is new, and what is odd about it."""

    row: TariffVersion
    new: bool
    notes: tuple[Message, ...]


@transaction.atomic
def import_tariff(*, workshop: Workshop, file: TariffFile, replace: bool = False) -> TakenIn:
    """Import one tariff version. The very same one again changes nothing.

    ``replace``: another document under the same version takes its place, if no label was bought by it.
    Raises Refused when another document stands under that version or date.
    """
    if file.currency != workshop.currency:
        raise Refused(
            f"The tariff is in {file.currency}, the workshop counts in {workshop.currency}. Convert the prices first.",
            code="other_currency",
            status=422,
            field="currency",
        )
    document, notes = file.model_dump(mode="json", exclude_unset=True), oddities_of(file.core())
    lock_workshop(workshop)
    mine = TariffVersion.objects.of(workshop).filter(carrier=file.carrier)
    held = mine.filter(version=file.tariff_version).first()
    if held is not None:
        if file_of(held) == file:
            return TakenIn(row=held, new=False, notes=notes)
        _may_change(workshop, held, file, replace=replace)
    other = mine.filter(valid_from=file.valid_from).exclude(version=file.tariff_version).first()
    if other is not None:
        raise Refused(
            f"{file.carrier_name} has a tariff from {file.valid_from} already, version "
            f"{other.version}. Give this one another date.",
            code="date_taken",
            field="valid_from",
        )
    row = held or TariffVersion(workshop=workshop, carrier=file.carrier, version=file.tariff_version)
    row.valid_from, row.document = file.valid_from, document
    row.save()
    tell_anything(workshop)
    return TakenIn(row=row, new=True, notes=notes)


def _may_change(workshop: Workshop, held: TariffVersion, file: TariffFile, *, replace: bool) -> None:
    used = labels_by(workshop, held)
    if used:
        raise Refused(
            f"{file.carrier_name} {file.tariff_version} is imported with other prices and {used} "
            "parcels used it: it cannot be "
            "changed. Give the new one another version and date.",
            code="version_used",
            field="tariff_version",
        )
    if not replace:
        raise Refused(
            f"{file.carrier_name} {file.tariff_version} is already imported with other prices. No "
            "parcel used it: choose to replace "
            "it, or give the new one another version.",
            code="version_exists",
            field="tariff_version",
        )


def labels_by(workshop: Workshop, row: TariffVersion) -> int:
    """Return how many labels were asked for or bought by a version."""
    # Labels from before the version was kept may have gone by any of the carrier's.
    mine = Q(tariff_version=row.version) | Q(tariff_version="")
    labels = Label.objects.of(workshop).filter(mine, carrier=row.carrier)
    return labels.exclude(state=Label.State.REFUSED).count()


@transaction.atomic
def remove_tariff(*, workshop: Workshop, tariff_id: int) -> TariffVersion:
    """Take a version away that no parcel went by, and return it.

    Raises Refused: not_found, version_used.
    """
    lock_workshop(workshop)
    row = TariffVersion.objects.of(workshop).select_for_update().filter(pk=tariff_id).first()
    if row is None:
        raise Refused("There is no such tariff in your workshop.", code="not_found", status=404)
    used = labels_by(workshop, row)
    if used:
        raise Refused(
            f"{used} parcels used {row.document['carrier_name']} {row.version}: it is kept.", code="version_used"
        )
    row.delete()
    tell_anything(workshop)
    return row


@transaction.atomic
def take_in_steps(*, workshop: Workshop, tariff_id: int, content: bytes, version: str, valid_from: date) -> TakenIn:
    """Make a new version of a carrier's tariff: step tables from CSV, everything else as it was.

    Raises Refused with every error by line and column; then nothing was imported.
    """
    row = TariffVersion.objects.of(workshop).filter(pk=tariff_id).first()
    if row is None:
        raise Refused("There is no such tariff in your workshop.", code="not_found", status=404)
    document = with_steps(file_of(row), content)
    named = {**document, "tariff_version": version, "valid_from": valid_from.isoformat()}
    return import_tariff(workshop=workshop, file=read_value(TariffFile, named, what="tariff with these steps"))
