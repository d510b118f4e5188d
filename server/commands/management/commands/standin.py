"""./calm standin DEVICE MODE"""

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.commands.base import add_workshop, the_workshop
from server.standins.api import MODES
from server.standins.models import Behaviour


class Command(BaseCommand):
    """Tell a stand-in how to behave."""

    help = "Tell the scale or the carrier how to behave."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Name device and mode."""
        parser.add_argument("device", choices=sorted(MODES))
        parser.add_argument("mode", nargs="?")
        add_workshop(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        """Set it, or list what it can do."""
        device, mode = options["device"], options["mode"]
        if mode is None:
            self.stdout.write(f"{device} can be: {', '.join(MODES[device])}")
            return
        if mode not in MODES[device]:
            raise CommandError(f"{device} can be {', '.join(MODES[device])}; given: {mode}.")
        workshop = the_workshop(options["workshop"])
        Behaviour.objects.of(workshop).update_or_create(workshop=workshop, device=device, defaults={"mode": mode})
        self.stdout.write(f"{device}: {mode}")
