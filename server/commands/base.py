"""What the commands share: finding the workshop, and a Refused as plain words instead of a trace."""

from argparse import ArgumentParser

from django.core.management.base import CommandError

from server.workshops.models import Workshop

__all__ = ["add_workshop", "the_workshop"]


def add_workshop(parser: ArgumentParser) -> None:
    """Add the option that names the workshop."""
    parser.add_argument("--workshop", help="code of the workshop, when there is more than one")


def the_workshop(code: str | None) -> Workshop:
    """Return the named workshop, or the only one."""
    rows = list(Workshop.objects.filter(code=code) if code else Workshop.objects.all()[:2])
    if len(rows) == 1:
        return rows[0]
    known = ", ".join(Workshop.objects.values_list("code", flat=True))
    raise CommandError(f"Name one workshop with --workshop; there are: {known or 'none yet'}.")
