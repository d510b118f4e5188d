"""./calm demo"""

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from server.commands.demo import SAMPLE_PEOPLE, load_demo
from server.workshops.models import Workshop


class Command(BaseCommand):
    """Load the sample workshop."""

    help = "Load the sample workshop of demo/; what is already imported stays."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Only on an empty database, or only its accounts, when asked."""
        parser.add_argument("--accounts", action="store_true", help="load nothing; print who may sign in to the sample")
        parser.add_argument("--if-empty", action="store_true", help="do nothing when there is a workshop already")

    def handle(self, *args: Any, **options: Any) -> None:
        """Load and say what happened."""
        if options["accounts"]:
            if Workshop.objects.filter(sample=True).exists():
                for _, role, username, password in SAMPLE_PEOPLE:
                    self.stdout.write(f"  {role.title() + ':':<9}{username:<8}password: {password}")
            else:
                self.stdout.write("  The page asks: set up your own workshop, or load the sample.")
            return
        if options["if_empty"] and Workshop.objects.exists():
            return
        for line in load_demo():
            self.stdout.write(f"  demo: {line}")
