"""Errors of a validation in words: every one, by its path, naming what is allowed. No class names, no web.

A misspelt field hides nothing: it is told, taken out, and the rest is validated again (``every_fault``).
"""

import copy
import difflib
from collections.abc import Callable
from functools import lru_cache
from typing import Any

from pydantic import BaseModel, ValidationError

__all__ = ["SeveralFaults", "every_fault", "faults_of"]

#: One error: where in the document, what is wrong.
Told = tuple[str, str]


class SeveralFaults(ValueError):
    """A validator found several errors at once; each becomes a line of its own."""

    def __init__(self, faults: list[str]) -> None:
        super().__init__("; ".join(faults))
        self.faults = faults


def faults_of(error: ValidationError, model: type[BaseModel] | None = None) -> list[Told]:
    """Return every error as path and words; with the model, an unknown field is answered by those that are known."""
    schema = _schema(model) if model is not None else {}
    return [
        (_path(item["loc"], schema), words)
        for item in error.errors(include_url=False)
        for words in _words(item, schema)
    ]


@lru_cache(maxsize=200)
def _schema(model: type[BaseModel]) -> dict[str, Any]:
    """Return a model's schema; it takes 50 ms for a large one, and never changes."""
    return model.model_json_schema()


def every_fault(model: type[BaseModel], value: object, error: ValidationError) -> list[Told]:
    """Return the errors of a value, also those that its unknown fields kept from being looked for."""
    faults = faults_of(error, model)
    unknown = [item["loc"] for item in error.errors(include_url=False) if item["type"] == "extra_forbidden"]
    if not unknown:
        return faults
    bare = copy.deepcopy(value)
    for location in unknown:
        _take_out(bare, location)
    try:
        model.model_validate(bare)
    except ValidationError as rest:
        faults += [fault for fault in faults_of(rest, model) if fault not in faults]
    return faults


def _take_out(value: Any, location: tuple[int | str, ...]) -> None:
    """Delete one field of a JSON document; parts of the path that only name a kind are passed over."""
    for part in location[:-1]:
        if (isinstance(value, dict) and part in value) or (isinstance(value, list) and isinstance(part, int)):
            value = value[part]  # type: ignore[index]
    if isinstance(value, dict):
        value.pop(location[-1], None)


def _path(location: tuple[int | str, ...], schema: dict[str, Any]) -> str:
    """Return the path as it stands in the document, without the names of kinds that pydantic puts between."""
    shown, at = "", schema
    for part in location:
        if schema and isinstance(part, str) and part not in _fields(at, schema) and _kinds(at, schema):
            at = _inside(at, part, schema)
            continue
        at = _inside(at, part, schema)
        shown += f"[{part}]" if isinstance(part, int) else f".{part}" if shown else str(part)
    return shown or "$"


def _known(schema: dict[str, Any], location: tuple[int | str, ...]) -> list[str]:
    """Return the fields that are known where an unknown one stands."""
    at = schema
    for part in location[:-1]:
        at = _inside(at, part, schema)
    return _fields(at, schema)


def _open(at: dict[str, Any], schema: dict[str, Any]) -> dict[str, Any]:
    while "$ref" in at:
        at = schema.get("$defs", {}).get(at["$ref"].rsplit("/", 1)[-1], {})
    return at


def _kinds(at: dict[str, Any], schema: dict[str, Any]) -> dict[str, Any]:
    """Return the kinds a part may be, by the value that tells them apart."""
    kinds: dict[str, Any] = _open(at, schema).get("discriminator", {}).get("mapping", {})
    return {name: {"$ref": ref} for name, ref in kinds.items()}


def _fields(at: dict[str, Any], schema: dict[str, Any]) -> list[str]:
    at = _open(at, schema)
    found = list(at.get("properties", {}))
    for one in at.get("anyOf", []):
        found += [name for name in _open(one, schema).get("properties", {}) if name not in found]
    return found


def _inside(at: dict[str, Any], part: int | str, schema: dict[str, Any]) -> dict[str, Any]:
    at = _open(at, schema)
    if isinstance(part, str) and part in _kinds(at, schema):
        return dict(_kinds(at, schema)[part])
    for one in (at, *at.get("anyOf", [])):
        one = _open(one, schema)
        if isinstance(part, int) and "items" in one:
            return dict(one["items"])
        if isinstance(part, str) and part in one.get("properties", {}):
            return dict(one["properties"][part])
    return {}


def _number(name: str) -> Callable[[dict[str, Any]], str]:
    words = {
        "greater_than": "must be above {gt}",
        "greater_than_equal": "must be at least {ge}",
        "less_than": "must be below {lt}",
        "less_than_equal": "must be at most {le}",
    }[name]
    return lambda facts: words.format(**facts)


_WHOLE = "must be a whole number"
_EXACT = "must be a number, such as 2.50"
_DAY = "must be a day, such as 2026-11-24"
_FORMS = {
    "^[A-Z]{2,3}$": "must be two or three capital letters, such as ALM",
    "^[A-Z]{3}$": "must be three capital letters",
    "^[A-Z]$": "must be one capital letter",
    "^[A-Za-z0-9][A-Za-z0-9._-]{1,39}$": "must be 2 to 40 letters, digits, dots or dashes, a letter or digit first",
    r"^[A-Za-z0-9][A-Za-z0-9._-]*$": "must be letters, digits, dots, dashes or underscores, a letter or digit first",
}

#: What is wrong, by the kind of error; facts are those the validation gives.
_WORDS: dict[str, str | Callable[[dict[str, Any]], str]] = {
    "missing": "is missing",
    "literal_error": lambda facts: f"must be {facts['expected']}",
    "enum": lambda facts: f"must be {facts['expected']}",
    "string_type": "must be text",
    "string_too_short": lambda facts: (
        "must not be empty" if facts["min_length"] == 1 else f"needs at least {facts['min_length']} letters"
    ),
    "string_too_long": lambda facts: f"must be at most {facts['max_length']} letters long",
    "string_pattern_mismatch": lambda facts: _FORMS.get(facts["pattern"], f"must be of the form {facts['pattern']}"),
    "int_type": _WHOLE,
    "int_parsing": _WHOLE,
    "int_from_float": _WHOLE,
    "int_parsing_size": "is too large",
    "float_type": _EXACT,
    "float_parsing": _EXACT,
    "decimal_type": _EXACT,
    "decimal_parsing": _EXACT,
    "finite_number": _EXACT,
    "decimal_max_digits": lambda facts: f"has more than {facts['max_digits']} digits",
    "decimal_max_places": lambda facts: f"has more than {facts['decimal_places']} decimal places",
    "decimal_whole_digits": lambda facts: f"has more than {facts['whole_digits']} digits before the point",
    "bool_type": "must be true or false",
    "bool_parsing": "must be true or false",
    "date_type": _DAY,
    "date_parsing": _DAY,
    "date_from_datetime_parsing": _DAY,
    "date_from_datetime_inexact": _DAY,
    "time_parsing": "must be a time, such as 16:30",
    "time_type": "must be a time, such as 16:30",
    "uuid_parsing": "must be a UUID",
    "uuid_type": "must be a UUID",
    "list_type": "must be a list",
    "tuple_type": "must be a list",
    "dict_type": "must be an object with fields",
    "model_type": "must be an object with fields",
    "model_attributes_type": "must be an object with fields",
    "too_short": lambda facts: f"needs at least {facts['min_length']}; there are {facts['actual_length']}",
    "too_long": lambda facts: f"at most {facts['max_length']}; there are more",
    "union_tag_not_found": lambda facts: f"needs the field {facts['discriminator']}, which says what it is",
    "union_tag_invalid": lambda facts: f"{facts['discriminator']} must be one of {facts['expected_tags']}",
    **{name: _number(name) for name in ("greater_than", "greater_than_equal", "less_than", "less_than_equal")},
}


def _words(item: Any, schema: dict[str, Any]) -> list[str]:
    facts = item.get("ctx", {})
    if item["type"] == "extra_forbidden":
        return [_unknown(str(item["loc"][-1]), _known(schema, item["loc"]))]
    if item["type"] == "value_error":
        error = facts.get("error")
        return list(error.faults) if isinstance(error, SeveralFaults) else [str(error)]
    words = _WORDS.get(item["type"])
    said = words(facts) if callable(words) else words or str(item["msg"])
    given = item.get("input")
    if item["type"] == "missing" or not (isinstance(given, str | int | float | bool) or given is None):
        return [said]
    return [f"{said} (given: {'nothing' if given is None else repr(str(given)[:60])})"]


def _unknown(name: str, known: list[str]) -> str:
    if not known:
        return "is not a field here; remove it"
    near = difflib.get_close_matches(name, known, n=1)
    meant = f"; did you mean {near[0]}?" if near else ""
    return (
        f"is not a field here{meant} Allowed: {', '.join(known)}"
        if near
        else (f"is not a field here; allowed: {', '.join(known)}")
    )
