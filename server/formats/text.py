"""Text that comes in and goes out: nothing a database or a spreadsheet would trip over."""

from typing import Any

__all__ = ["no_float", "no_nul", "safe_cell"]


def no_float(value: Any) -> Any:
    """Return a number as text: JSON's 0.62 arrives as float, and its shortest text is what the file says.

    Raises ValueError for true and false, which are no numbers.
    """
    if isinstance(value, bool):
        raise ValueError("is not a number")
    return str(value) if isinstance(value, float) else value


def no_nul(value: Any) -> Any:
    """Return the value as it is; refuse NUL characters anywhere in it: PostgreSQL cannot keep them.

    Raises ValueError, which pydantic turns into a fault.
    """
    if isinstance(value, str) and "\x00" in value:
        raise ValueError("text may not hold a NUL character")
    if isinstance(value, dict):
        for key, inner in value.items():
            no_nul(key)
            no_nul(inner)
    elif isinstance(value, list):
        for inner in value:
            no_nul(inner)
    return value


def safe_cell(text: str) -> str:
    """Return the text with a leading quote when a spreadsheet would run it as a formula (rules, 19)."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text
