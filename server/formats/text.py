"""Text that comes in and goes out: nothing a database or a spreadsheet would trip over."""

import codecs
import re
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Literal

__all__ = ["FileText", "exact_number", "file_text", "iso_day", "no_nul", "safe_cell", "table_faults"]

#: A number as people write it: no sign before zero, no underscores, no exponent.
_PLAIN = re.compile(r"(?!-0+(?:\.0*)?$)-?\d+(?:\.\d+)?", re.ASCII)
_DAY = re.compile(r"\d{4}-\d{2}-\d{2}", re.ASCII)


def exact_number(value: Any) -> Any:
    """Return a number as text: JSON's 0.62 arrives as float, and its shortest text is what the file says.

    Raises ValueError for true and false, for "1_000", "-0" and "1e3": they are not how a price is written.
    """
    if isinstance(value, bool):
        raise ValueError("must be a number, such as 2.50")
    text = str(value) if isinstance(value, float) else value
    if isinstance(text, str) and not _PLAIN.fullmatch(text.strip()):
        raise ValueError(f"must be a number in digits, such as 2.50 (given: {text[:60]!r})")
    return text


def iso_day(value: Any) -> Any:
    """Return a day as it is; refuse times and counted seconds, which would be read as some day.

    Raises ValueError, which pydantic turns into an error of the file.
    """
    if isinstance(value, date) and not isinstance(value, datetime):
        return value
    if not isinstance(value, str) or not _DAY.fullmatch(value):
        raise ValueError(f"must be a day, such as 2026-11-24 (given: {str(value)[:60]!r})")
    return value


def no_nul(value: Any) -> Any:
    """Return the value as it is; refuse NUL characters anywhere in it: PostgreSQL cannot keep them.

    Raises ValueError, which pydantic turns into an error.
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


#: No table that people keep has more columns, or longer lines.
_MOST_COLUMNS, _LONGEST_LINE = 200, 20_000


def table_faults(text: str, *, most_lines: int) -> tuple[str, str] | None:
    """Tell what makes a text no table that is worth parsing: (what it has, what is allowed); None: nothing.

    Counted before anything is parsed, since a few megabytes of commas or empty lines take seconds to take apart.
    """
    head = text[: _LONGEST_LINE + 1].split("\n", 1)[0]
    if len(head) > _LONGEST_LINE:
        return f"a first line of more than {_LONGEST_LINE} letters", "a heading with the names of the columns"
    columns = 1 + max(head.count(mark) for mark in ",;\t")
    if columns > _MOST_COLUMNS:
        return f"{columns} columns", f"at most {_MOST_COLUMNS} columns"
    # Notes may hold line ends, and sheets end with empty lines: twice as many is still a table.
    lines = max(text.count("\n"), text.count("\r"))
    if lines > 2 * most_lines + 100:
        return f"{lines} lines", f"{most_lines} lines at most; split the file"
    cells = max(text.count(mark) for mark in ",;\t")
    if cells > most_lines * _MOST_COLUMNS // 4:
        return f"{cells} cells", f"{most_lines} lines at most; split the file"
    return None


def safe_cell(text: str) -> str:
    """Return the text with a leading quote when a spreadsheet would run it as a formula (rules 19.2)."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


#: Bytes Windows-1252 leaves undefined: a file that holds one is written in something else again.
_UNDEFINED_1252 = frozenset((0x81, 0x8D, 0x8F, 0x90, 0x9D))


@dataclass(frozen=True, slots=True)
class FileText:
    """A text file as it was read, and the encoding it was read in."""

    text: str
    encoding: Literal["utf-8", "utf-16", "windows-1252"]


def file_text(content: bytes) -> FileText:
    """Return a text file's text: by its mark (UTF-8, UTF-16), else UTF-8, else Windows-1252.

    UTF-8 is told apart safely: text with accents in Windows-1252 is hardly ever valid UTF-8. Programs that write
    tables on a desktop still use Windows-1252, so it is the only other one looked for; which one it was is shown.
    Raises ValueError that names the first byte that fits none of them.
    """
    if content.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        try:
            return FileText(content.decode("utf-16"), "utf-16")
        except UnicodeDecodeError as error:
            raise ValueError(f"byte {error.start + 1} is no text") from None
    try:
        return FileText(content.decode("utf-8-sig"), "utf-8")
    except UnicodeDecodeError as error:
        undefined = next((at for at, byte in enumerate(content) if byte in _UNDEFINED_1252), None)
        if undefined is not None or b"\x00" in content:
            raise ValueError(f"byte {error.start + 1} is no text") from None
        return FileText(content.decode("cp1252"), "windows-1252")
