"""A table in a file, whatever program wrote it: CSV in any common form, or a sheet of .xlsx (step 4 of the work).

Everything is bounded before it is taken apart. Nothing here knows what the columns mean.
"""

import csv
import io
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Literal

from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from server.formats.text import file_text, table_faults

__all__ = ["Encoding", "NotATable", "Table", "is_json", "read_table"]

Encoding = Literal["utf-8", "utf-16", "windows-1252", "xlsx"]

_MARKS = (",", ";", "\t", "|")
_HEADING_WITHIN = 15
_LONGEST_CELL = 4_000
_MOST_COLUMNS = 200
#: A packed file may come to so much when it is unpacked; a sheet of 20 000 lines comes to a tenth of it.
_MOST_UNPACKED = 80_000_000
_OLD_SHEET = b"\xd0\xcf\x11\xe0"
_SEP = re.compile(r"sep=([,;|\t])\r?\n", re.IGNORECASE)


class NotATable(Exception):
    """A file that cannot be read as a table: what it has, what is allowed, on which line (0: the whole)."""

    def __init__(self, value: str, allowed: str, *, line: int = 0) -> None:
        super().__init__(f"{value}; allowed: {allowed}")
        self.value, self.allowed, self.line = value, allowed, line


@dataclass(frozen=True, slots=True, kw_only=True)
class Table:
    """The columns' names, each different, and the lines under them with their numbers in the file."""

    head: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]
    encoding: Encoding

    def values(self, at: int) -> tuple[str, ...]:
        """Return what stands in one column, empty cells left out."""
        return tuple(cells[at] for _, cells in self.rows if cells[at])


def is_json(content: bytes) -> bool:
    """Return whether a file begins as JSON does."""
    start = content[:10_000].lstrip(b"\xef\xbb\xbf\xff\xfe \t\r\n\x00")[:1]
    return start in (b"{", b"[")


def read_table(content: bytes, *, most_lines: int) -> Table:
    """Return the table in a file. Raises NotATable."""
    if content.startswith(_OLD_SHEET):
        raise NotATable("an old .xls sheet", "a sheet saved as .xlsx or CSV")
    if content.startswith(b"PK\x03\x04"):
        lines, encoding = list(_sheet_lines(content, most_lines)), "xlsx"
    else:
        try:
            file = file_text(content)
        except ValueError as error:
            raise NotATable(str(error), "a text file in UTF-8, UTF-16 or Windows-1252, or a sheet as .xlsx") from None
        lines, encoding = list(_csv_lines(file.text, most_lines)), file.encoding
    return _with_heading(lines, encoding, most_lines)  # type: ignore[arg-type]


def _with_heading(lines: list[tuple[int, list[str]]], encoding: Encoding, most_lines: int) -> Table:
    """Find the heading: the first line about as wide as the widest. Lines above it are a title."""
    if not lines:
        raise NotATable("empty", "a file with a heading line and at least one order")
    for line, cells in lines:
        if any("\x00" in cell for cell in cells):
            raise NotATable("a NUL character", "text; save the file again as UTF-8", line=line)
    first = lines[:_HEADING_WITHIN]
    width = max(sum(bool(cell) for cell in cells) for _, cells in first)
    at = next(i for i, (_, cells) in enumerate(first) if 10 * sum(bool(cell) for cell in cells) >= 6 * width)
    names = _different(lines[at][1])
    rows = []
    for line, cells in lines[at + 1 :]:
        if any(cells[len(names) :]):
            raise NotATable(
                f"{len(cells)} cells",
                f"{len(names)} cells, as in the heading; put text that holds the separator in quotes",
                line=line,
            )
        rows.append((line, tuple((cells + [""] * len(names))[: len(names)])))
    if not rows:
        raise NotATable("no lines", "at least one line under the heading")
    if len(rows) > most_lines:
        raise NotATable(f"{len(rows)} lines", f"{most_lines} lines at most; split the file")
    return Table(head=tuple(names), rows=tuple(rows), encoding=encoding)


def _different(names: list[str]) -> list[str]:
    """Give columns without a name one, and those that share one a number after it."""
    found: list[str] = []
    while names and not names[-1]:
        names = names[:-1]
    for at, name in enumerate(names, start=1):
        bare = name[:80] or f"column {at}"
        same = 1
        while (bare if same == 1 else f"{bare} ({same})") in found:
            same += 1
        found.append(bare if same == 1 else f"{bare} ({same})")
    return found


def _csv_lines(text: str, most_lines: int) -> Iterator[tuple[int, list[str]]]:
    said = _SEP.match(text)
    skipped = 0
    if said is not None:
        text, skipped = text[said.end() :], 1
    unfit = table_faults(text, most_lines=most_lines)
    if unfit is not None:
        raise NotATable(*unfit)
    head = "\n".join(text.split("\n", 10)[:10])
    mark = said[1] if said is not None else max(_MARKS, key=lambda one: (_outside_quotes(head, one), one == ","))
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=mark, strict=True)
    found = 0
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                found += 1
                if found > most_lines + _HEADING_WITHIN:
                    raise NotATable(f"more than {most_lines} lines", f"{most_lines} lines at most; split the file")
                if len(cells) > _MOST_COLUMNS:
                    raise NotATable(
                        f"{len(cells)} cells", f"at most {_MOST_COLUMNS} columns", line=reader.line_num + skipped
                    )
                yield reader.line_num + skipped, [_cell(cell) for cell in cells]
    except csv.Error as error:
        raise NotATable(
            str(error), "a well-formed CSV line; check the quotes", line=reader.line_num + skipped
        ) from None


def _outside_quotes(text: str, mark: str) -> int:
    return sum(part.count(mark) for part in text.split('"')[::2])


def _cell(text: str) -> str:
    bare = text.strip().strip("\ufeff\u200b").strip()
    # A spreadsheet that was told to keep a text as it is: ="00123"
    if bare.startswith('="') and bare.endswith('"'):
        bare = bare[2:-1]
    return bare[:_LONGEST_CELL]


def _sheet_lines(content: bytes, most_lines: int) -> Iterator[tuple[int, list[str]]]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(one.file_size for one in packed.infolist()) > _MOST_UNPACKED:
                raise NotATable(
                    "a sheet that unpacks to more than 80 MB", f"{most_lines} lines at most; split the file"
                )
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    except NotATable:
        raise
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, TypeError, OSError, SyntaxError) as error:
        raise NotATable(
            f"no sheet that can be opened ({type(error).__name__})", "a sheet saved as .xlsx or CSV"
        ) from None
    except Exception as error:  # noqa: BLE001 - a broken sheet raises whatever its reader trips over; it is told
        raise NotATable(
            f"no sheet that can be opened ({type(error).__name__})", "a sheet saved as .xlsx or CSV"
        ) from None
    try:
        for sheet in book.worksheets:
            found = 0
            for line, cells in enumerate(sheet.iter_rows(values_only=True, max_col=_MOST_COLUMNS + 1), start=1):
                texts = [_cell(_sheet_text(value)) for value in cells]
                if any(texts[_MOST_COLUMNS:]):
                    raise NotATable(f"more than {_MOST_COLUMNS} columns", f"at most {_MOST_COLUMNS} columns", line=line)
                if any(texts):
                    found += 1
                    if found > most_lines + _HEADING_WITHIN:
                        raise NotATable(f"more than {most_lines} lines", f"{most_lines} lines at most; split the file")
                    yield line, texts
                elif line > 3 * most_lines:
                    break
            if found > 1:
                return  # the first sheet with a table is the one
    except NotATable:
        raise
    except Exception as error:  # noqa: BLE001 - as above
        raise NotATable(f"a sheet that breaks off ({type(error).__name__})", "a sheet saved as .xlsx or CSV") from None
    finally:
        book.close()


def _sheet_text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        return value.isoformat(" ") if value.time() != time(0) else value.date().isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float):
        whole = int(value) if value == value and abs(value) < 1e15 and value == int(value) else None
        # What a sheet computes is a hair off: six places are more than any price has.
        return str(whole) if whole is not None else f"{value:.6f}".rstrip("0").rstrip(".")
    return str(value)
