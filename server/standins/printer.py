"""A label printer behind a plain interface, and the simulated one that ships with the app.

``LabelPrinter`` is what the bench knows; a real driver would implement it. The simulation keeps what came out and can
be told to misbehave: out_of_labels, jammed, offline, twice (two sheets come out for one).
"""

from dataclasses import dataclass
from typing import Literal, Protocol, get_args

from django.utils import timezone

from server.standins.models import Behaviour, PrintedSheet
from server.workshops.models import Workshop

__all__ = ["PRINTER_MODES", "LabelPrinter", "Printed", "PrinterRefuses", "PrinterState", "SimulatedPrinter"]

PrinterState = Literal["ready", "out_of_labels", "jammed", "offline"]
PRINTER_MODES = ("well", "out_of_labels", "jammed", "offline", "twice")


class PrinterRefuses(Exception):
    """The printer prints nothing now."""

    def __init__(self, state: PrinterState) -> None:
        super().__init__(state)
        self.state = state


@dataclass(frozen=True, slots=True, kw_only=True)
class Printed:
    """What came out."""

    sheets: int


class LabelPrinter(Protocol):
    """What the bench needs of a label printer."""

    def state(self, workshop: Workshop) -> PrinterState:
        """Return whether it would print now."""

    def print(self, workshop: Workshop, *, title: str, content: bytes) -> Printed:
        """Print one label, a PDF of 100 x 150 mm. Raises PrinterRefuses; then nothing came out."""


class SimulatedPrinter:
    """The stand-in: writes down what would have come out."""

    def state(self, workshop: Workshop) -> PrinterState:
        """Return whether it would print now."""
        mode = self._mode(workshop)
        return next((one for one in get_args(PrinterState) if one == mode), "ready")

    def print(self, workshop: Workshop, *, title: str, content: bytes) -> Printed:
        """Print one label. See ``LabelPrinter.print``."""
        state = self.state(workshop)
        if state != "ready":
            raise PrinterRefuses(state)
        sheets = 2 if self._mode(workshop) == "twice" else 1
        PrintedSheet.objects.of(workshop).create(
            workshop=workshop, title=title[:120], bytes=len(content), sheets=sheets, at=timezone.now()
        )
        return Printed(sheets=sheets)

    def _mode(self, workshop: Workshop) -> str:
        behaviour = Behaviour.objects.of(workshop).filter(device="printer").first()
        return behaviour.mode if behaviour else "well"
