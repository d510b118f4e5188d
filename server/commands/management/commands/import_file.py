"""./calm import KIND FILE"""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.api.problems import Refused
from server.commands.base import add_workshop, the_workshop
from server.commands.intake import KINDS, import_kind
from server.formats.base import read_file
from server.formats.workshop import WorkshopFile
from server.workshops.services import import_workshop


class Command(BaseCommand):
    """Import one open file."""

    help = "Import a file: all of it, or nothing and every error named."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Name kind and file."""
        parser.add_argument("kind", choices=KINDS)
        parser.add_argument("file")
        parser.add_argument("--folder", default=".", help="where a relative file name starts")
        add_workshop(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        """Read, import, say what happened."""
        path = Path(options["folder"]) / options["file"]
        try:
            content = path.read_bytes()
        except OSError as error:
            raise CommandError(f"{options['file']} cannot be read: {error.strerror}.") from None
        try:
            if options["kind"] == "workshop":
                workshop = import_workshop(read_file(WorkshopFile, content, what="workshop file"))
                self.stdout.write(f"workshop {workshop.name}")
                return
            self.stdout.write(
                import_kind(the_workshop(options["workshop"]), options["kind"], content, by="command line")
            )
        except Refused as refused:
            faults = "".join(f"\n  {fault.path}: {fault.message}" for fault in refused.faults)
            raise CommandError(f"{refused.detail}{faults}") from None
