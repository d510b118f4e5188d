"""Two versions of a recipe side by side: every difference, in words (designing)."""

from dataclasses import asdict, dataclass
from decimal import Decimal
from typing import Any

from core.recipes.model import Recipe
from core.units import format_length

__all__ = ["Difference", "differences"]

_WORDS = {
    "goods_checks": "Look at the goods", "wrap_note": "How to wrap", "proving_checks": "Prove it", "cautions": "Mind",
    "buyer_note": "Note for the buyer", "ahead": "Before the packing", "trial_needed": "A trial is needed", "mix": "For the mix",
    "name": "Name", "layers": "Layer", "unit_box": "Box for each", "unit_box_sealed": "Box for each, sealed", "inner": "Inner carton",
    "outers": "Containers", "any_outer": "Or any that fits", "gap_um": "Gap to the next", "bottom_um": "Cushion below",
    "side_um": "Cushion at the sides", "top_um": "Cushion on top", "fill": "Fill", "fill_below": "Fill below", "fill_above": "Fill on top",
    "proud_percent": "Top fill proud, %", "closure": "Closing", "tape": "Tape", "pattern": "Tape pattern", "both_faces": "Both faces",
    "overhang_um": "Tape overhang", "required_grade": "Closure grade wanted", "inserts": "Insert", "marks": "Marks",
    "per_unit": "Minutes for each", "per_parcel": "Minutes for the parcel", "per_order": "Minutes for the order",
    "school": "What holds it still", "divider": "Sheet between layers", "steps": "More to do", "wrap": "wrap", "turns": "turns",
    "ends_top": "ends over the top", "ends_bottom": "ends under the base", "compression": "compression", "overlap_um": "overlap",
    "per_units": "units together", "amount": "amount", "per": "per", "place": "place", "required": "required", "group_of": "group of",
    "when": "when", "samples": "samples", "container": "", "clearance_um": "clearance", "insert": "", "cushion": "", "minutes": "",
    "what": "", "hours_before": "hours before", "sku": "", "quantity": "number", "first_order": "first order only", "gift": "gifts only",
    "least_value": "from a value of", "with_goods": "with", "without_goods": "without", "countries": "countries", "season": "season",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """One thing that differs; ``band`` is empty for what holds for all sizes."""

    band: str
    what: str
    before: str
    after: str


def differences(before: Recipe, after: Recipe) -> tuple[Difference, ...]:
    """Return every difference between two versions, what holds for all sizes first, then band by band."""
    old, new = _flat(_all_sizes(before)), _flat(_all_sizes(after))
    found = _compare("", old, new)
    bands = {(band.first, band.last): band for band in before.bands}
    others = {(band.first, band.last): band for band in after.bands}
    for first, last in sorted({*bands, *others}):
        name = str(first) if first == last else f"{first} to {last}"
        mine, its = bands.get((first, last)), others.get((first, last))
        if mine is None or its is None:
            old_words, new_words = ("there was none", "new") if mine is None else ("there was one", "gone")
            found.append(Difference(band=name, what="Order-size band", before=old_words, after=new_words))
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


def _compare(band: str, old: dict[tuple[str, ...], Any], new: dict[tuple[str, ...], Any]) -> list[Difference]:
    found = []
    for path in dict.fromkeys([*old, *new]):
        one, other = old.get(path), new.get(path)
        if one != other and not (_empty(one) and _empty(other)):
            found.append(Difference(band=band, what=_say(path), before=_show(path, one), after=_show(path, other)))
    return found


def _empty(value: Any) -> bool:
    return value is None or value in ((), [], {}, "")


def _say(path: tuple[str, ...]) -> str:
    words = [part if part.isdigit() else _WORDS.get(part, part.replace("_", " ")) for part in path]
    return " ".join(word for word in words if word)


def _show(path: tuple[str, ...], value: Any) -> str:
    if _empty(value):
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if path[-1].endswith("_um") and isinstance(value, int):
        return format_length(value)
    if isinstance(value, Decimal):
        return f"{value.normalize():f}"
    return ", ".join(str(one) for one in value) if isinstance(value, tuple | list) else str(value)
