"""Every refusal the core can make, each with its facts as attributes.

Used by every room. May not know how a refusal is shown: the server maps ``code`` and ``field`` to an
HTTP problem once, in ``server/api/problems.py``.
"""

from typing import Literal

from core.messages import Text, say

__all__ = ["BadMeasure", "BadRecipe", "CoreError", "InvalidPacking", "LimitName", "MixedCurrencies", "OutsideTariff"]


#: What a service may refuse a parcel for.
LimitName = Literal[
    "longest side",
    "second side",
    "thickness",
    "girth",
    "length plus girth",
    "sum of sides",
    "least longest side",
    "least second side",
    "least thickness",
    "volume",
    "weight",
    "least weight",
    "billable weight",
    "packaging",
    "goods",
    "destination",
    "choosing",
    "days in transit",
    "arrive by",
    "ship date",
]


class CoreError(Exception):
    """Base of every refusal. ``code`` is stable and machine-readable; words are made of the message at the edge."""

    code = "core_error"

    def __init__(self, message: Text) -> None:
        super().__init__(message if isinstance(message, str) else message.code)
        self.message = message


class BadMeasure(CoreError):
    """A text that should be a length, weight or amount is not one.

    ``text`` is what was given, ``what`` was wanted: length, weight, number. ``why`` tells it apart: it is
    ambiguous, ...
    """

    code = "bad_measure"

    def __init__(self, text: str, *, what: str, why: str = "bad_measure", **facts: str) -> None:
        super().__init__(say(why, text=text, what=say(f"measure_{what}"), allowed=say(f"allowed_{what}"), **facts))
        self.text = text
        self.what = what


class BadRecipe(CoreError):
    """A recipe contradicts itself; ``faults`` names every error, not only the first."""

    code = "bad_recipe"

    def __init__(self, recipe_code: str, faults: tuple[Text, ...]) -> None:
        super().__init__(say("bad_recipe", recipe=recipe_code, faults=faults))
        self.recipe_code = recipe_code
        self.faults = faults


class OutsideTariff(CoreError):
    """A service does not take this parcel: which limit, the value, and the limit itself.

    ``unit`` is ``um``, ``mg``, ``cm3``, ``text`` or ``none``; value and limit are in it.
    """

    code = "outside_tariff"

    def __init__(self, message: Text, *, limit_name: LimitName, unit: str, value: int = 0, limit: int = 0) -> None:
        super().__init__(message)
        self.limit_name = limit_name
        self.unit = unit
        self.value = value
        self.limit = limit


class MixedCurrencies(CoreError):
    """Price lists in different currencies cannot be compared."""

    code = "mixed_currencies"

    def __init__(self, one: tuple[str, str], other: tuple[str, str]) -> None:
        super().__init__(
            say("mixed_currencies", carrier=one[0], currency=one[1], other=other[0], other_currency=other[1])
        )


class InvalidPacking(CoreError):
    """The independent checker found errors in a packing the search returned: a defect of ours."""

    code = "invalid_packing"

    def __init__(self, container_code: str, faults: tuple[str, ...]) -> None:
        super().__init__(say("invalid_packing", container=container_code, faults="; ".join(faults)))
        self.container_code = container_code
        self.faults = faults
