"""./calm backup [FILE]"""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from server.api.refused import Refused
from server.upkeep.backup import back_up


class Command(BaseCommand):
    """Write everything into one file."""

    help = "Write everything into one file; the program may run meanwhile."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Name the file."""
        parser.add_argument("file", nargs="?", help="calm-DATE.backup in this folder when not said")
        parser.add_argument("--folder", default=".", help="where a relative file name starts")

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it, say how large it is."""
        file = Path(options["folder"]) / (options["file"] or f"calm-{timezone.now():%Y-%m-%d}.backup")
        if file.exists():
            raise CommandError(f"{file} is there already. Give another name, or move it away.")
        try:
            size = back_up(file)
        except Refused as refused:
            raise CommandError(f"No backup was written: {refused.detail}") from None
        self.stdout.write(f"{file}: {size / 1e6:.1f} MB. Keep it on another machine; ./calm restore reads it.")
