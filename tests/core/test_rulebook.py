"""The rulebook and the code name each other: every reference resolves, every place it names is there."""

import re
import unittest
from pathlib import Path

_ROOT = Path(__file__).resolve().parent.parent.parent
_BOOK = (_ROOT / "docs" / "rules.md").read_text(encoding="utf-8")
_NUMBERS = set(re.findall(r"^- \*\*(\d+\.\d+)", _BOOK, re.M))
_REFERENCE = re.compile(r"\brules,? (\d+(?:\.\d+)?(?:(?:, | and )\d+(?:\.\d+)?)*)(?![\d_])")


def _sources() -> list[Path]:
    found = [path for room in ("core", "server", "tests", "bench", "scripts") for path in (_ROOT / room).rglob("*.py")]
    return [path for path in found if path.name not in ("test_rulebook.py", "test_relations.py")]


class Rulebook(unittest.TestCase):
    def test_every_reference_in_the_code_is_a_rule_of_the_book(self) -> None:
        unknown, seen = [], 0
        for path in _sources():
            for match in _REFERENCE.finditer(path.read_text(encoding="utf-8")):
                for number in re.findall(r"\d+(?:\.\d+)?", match.group(1)):
                    seen += 1
                    if number not in _NUMBERS:
                        unknown.append(f"{path.relative_to(_ROOT)}: rules {number}")
        self.assertEqual(unknown, [])
        self.assertGreater(seen, 100)

    def test_every_place_the_book_names_is_there(self) -> None:
        missing = []
        for line in _BOOK.splitlines():
            if "*Where" not in line:
                continue
            room = ""
            for name in re.findall(r"`([\w/.]+)`", line.split("*Where", 1)[1]):
                place = name.split(".")[0]
                if "/" in place:
                    room = place.rsplit("/", 1)[0]
                else:
                    place = f"{room}/{place}"
                if not any((_ROOT / f"{place}{end}").exists() for end in (".py", ".ts", "", "/__init__.py")):
                    missing.append(f"{name} in: {line[:60]}")
        self.assertEqual(missing, [])

    def test_numbers_follow_each_other(self) -> None:
        numbers = [tuple(map(int, number.split("."))) for number in re.findall(r"^- \*\*(\d+\.\d+)", _BOOK, re.M)]
        self.assertEqual(numbers, sorted(set(numbers)))


if __name__ == "__main__":
    unittest.main()
