"""Importing a workshop file and making its people."""

from django.contrib.auth.models import User
from django.db import transaction

from server.formats.workshop import WorkshopFile
from server.workshops.models import Member, Workshop

__all__ = ["import_workshop", "set_member"]


def import_workshop(file: WorkshopFile) -> Workshop:
    """Return the workshop of the file, made or brought up to date."""
    values = file.model_dump(exclude={"format", "version", "code"})
    workshop, _ = Workshop.objects.update_or_create(code=file.code, defaults=values)
    return workshop


@transaction.atomic
def set_member(*, workshop: Workshop, username: str, name: str, role: str, password: str) -> Member:
    """Return the member of that name, made when new; a known person keeps the password they have."""
    user, new = User.objects.get_or_create(username=username, defaults={"first_name": name})
    if new:
        user.set_password(password)
        user.save()
    member, _ = Member.objects.get_or_create(user=user, defaults={"workshop": workshop, "role": role})
    return member
