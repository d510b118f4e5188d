"""./calm restore FILE"""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.api.refused import Refused
from server.upkeep.backup import put_in_place, restore_beside


class Command(BaseCommand):
    """Put a backup in the place of the database in use."""

    help = "Put a backup in the place of the database in use, which is kept under another name. Stop the program first."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Name the file."""
        parser.add_argument("file")
        parser.add_argument("--folder", default=".", help="where a relative file name starts")

    def handle(self, *args: Any, **options: Any) -> None:
        """Read it beside, then put it in place."""
        file = Path(options["folder"]) / options["file"]
        if not file.is_file():
            raise CommandError(f"There is no file {file}.")
        try:
            restored = restore_beside(file)
            before = put_in_place(restored)
        except Refused as refused:
            raise CommandError(refused.detail) from None
        self.stdout.write(
            f"{restored.rows} rows are back. What was there before is kept as database {before}. "
            "Run ./start: it brings the restored data to this version. Then ./calm check."
        )
