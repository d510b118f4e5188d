"""Two versions of a recipe side by side: every difference (designing)."""

from dataclasses import asdict, dataclass
from decimal import Decimal
from typing import Any

from core.messages import Message, Text, say
from core.recipes.model import Recipe, size_of

__all__ = ["Difference", "differences"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """One thing that differs; ``band`` is empty for what holds for all sizes."""

    band: Text
    what: Text
    before: Text
    after: Text


def differences(before: Recipe, after: Recipe) -> tuple[Difference, ...]:
    """Return every difference between two versions, what holds for all sizes first, then band by band."""
    old, new = _flat(_all_sizes(before)), _flat(_all_sizes(after))
    found = _compare("", old, new)
    bands = {(band.first, band.last): band for band in before.bands}
    others = {(band.first, band.last): band for band in after.bands}
    for first, last in sorted({*bands, *others}):
        name = size_of(first, last)
        mine, its = bands.get((first, last)), others.get((first, last))
        if mine is None or its is None:
            now, then = ("band_none", "band_new") if mine is None else ("band_was", "band_gone")
            found.append(Difference(band=name, what=say("field_band"), before=say(now), after=say(then)))
            continue
        found += _compare(name, _flat(_of_band(mine)), _flat(_of_band(its)))
    return tuple(found)


def _all_sizes(recipe: Recipe) -> dict[str, Any]:
    values = asdict(recipe)
    for name in ("bands", "version", "tried", "code"):
        del values[name]
    return values


def _of_band(band: Any) -> dict[str, Any]:
    values = asdict(band)
    del values["first"], values["last"]
    return values


def _flat(value: Any, path: tuple[str, ...] = ()) -> dict[tuple[str, ...], Any]:
    if isinstance(value, dict) and value:
        return {k: v for name, one in value.items() for k, v in _flat(one, (*path, name)).items()}
    if isinstance(value, tuple | list) and any(isinstance(one, dict) for one in value):
        return {k: v for at, one in enumerate(value) for k, v in _flat(one, (*path, str(at + 1))).items()}
    return {path: value}


def _compare(band: Text, old: dict[tuple[str, ...], Any], new: dict[tuple[str, ...], Any]) -> list[Difference]:
    found = []
    for path in dict.fromkeys([*old, *new]):
        one, other = old.get(path), new.get(path)
        if one != other and not (_empty(one) and _empty(other)):
            found.append(Difference(band=band, what=_path(path), before=_show(path, one), after=_show(path, other)))
    return found


def _empty(value: Any) -> bool:
    return value is None or value in ((), [], {}, "")


def _path(path: tuple[str, ...]) -> Message:
    return say("field_path", parts=tuple(part if part.isdigit() else say(f"field_{part}") for part in path))


def _show(path: tuple[str, ...], value: Any) -> Text:
    if _empty(value):
        return say("none")
    if isinstance(value, bool):
        return say("yes" if value else "no")
    if path[-1].endswith("_um") and isinstance(value, int):
        return say("so_long", length_um=value)
    if isinstance(value, Decimal):
        return f"{value.normalize():f}"
    return ", ".join(str(one) for one in value) if isinstance(value, tuple | list) else str(value)
