"""Every refusal the core can make, each with its facts as attributes.

Used by every room. May not know how a refusal is shown: the server maps ``code`` and ``field`` to an
HTTP problem once, in ``server/api/problems.py``.
"""

__all__ = ["BadMeasure", "BadRecipe", "CoreError", "InvalidPacking", "OutsideTariff"]


class CoreError(Exception):
    """Base of every refusal. ``code`` is stable and machine-readable, the message is for people."""

    code = "core_error"

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


class BadMeasure(CoreError):
    """A text that should be a length, weight or amount is not one.

    ``text`` is what was given, ``allowed`` says in words what is accepted.
    """

    code = "bad_measure"

    def __init__(self, text: str, *, what: str, allowed: str) -> None:
        super().__init__(f"'{text}' is not a {what}. Write {allowed}.")
        self.text = text
        self.what = what
        self.allowed = allowed


class BadRecipe(CoreError):
    """A recipe contradicts itself; ``faults`` names every fault, not only the first."""

    code = "bad_recipe"

    def __init__(self, recipe_code: str, faults: tuple[str, ...]) -> None:
        super().__init__(f"Recipe {recipe_code}: " + " ".join(faults))
        self.recipe_code = recipe_code
        self.faults = faults


class OutsideTariff(CoreError):
    """A service does not take this parcel: which limit, the value, and the limit itself.

    ``unit`` is ``um``, ``mg``, ``cm3``, ``text`` or ``none``; value and limit are in it.
    """

    code = "outside_tariff"

    def __init__(self, message: str, *, limit_name: str, unit: str, value: int = 0, limit: int = 0) -> None:
        super().__init__(message)
        self.limit_name = limit_name
        self.unit = unit
        self.value = value
        self.limit = limit


class InvalidPacking(CoreError):
    """The independent checker found faults in a packing the search returned: a defect of ours."""

    code = "invalid_packing"

    def __init__(self, container_code: str, faults: tuple[str, ...]) -> None:
        super().__init__(f"The packing found for {container_code} is not valid: " + "; ".join(faults))
        self.container_code = container_code
        self.faults = faults
