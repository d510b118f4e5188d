"""Words: every code the core says has its template with facts that fit, and the words given up are gone."""

import ast
import json
import re
import string
import unittest
from collections.abc import Iterator
from pathlib import Path

from server.config.env import ROOT
from server.words.catalogue import CATALOGUE

_PYTHON = [
    path
    for room in ("core", "server")
    for path in sorted((ROOT / room).rglob("*.py"))
    if "migrations" not in path.parts
]


def _calls() -> Iterator[tuple[Path, ast.Call]]:
    for path in _PYTHON:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "say" and node.args:
                yield path, node


def _pattern(joined: ast.JoinedStr) -> str:
    return "".join(re.escape(str(part.value)) if isinstance(part, ast.Constant) else r"\w+" for part in joined.values)


def _placeholders(template: str) -> set[str]:
    found = set()
    for _, name, spec, _ in string.Formatter().parse(template):
        if name:
            found.add(name)
            if spec and spec.startswith(("vs ", "of ")):
                found.add(spec[3:])
    return found


class Catalogue(unittest.TestCase):
    def test_every_code_said_has_a_template(self) -> None:
        for path, call in _calls():
            code = call.args[0]
            where = f"{path.name}:{call.lineno}"
            if isinstance(code, ast.Constant):
                self.assertIn(code.value, CATALOGUE, where)
            elif isinstance(code, ast.JoinedStr):
                pattern = re.compile(_pattern(code))
                self.assertTrue(any(pattern.fullmatch(known) for known in CATALOGUE), f"{where}: {pattern.pattern}")

    def test_every_template_finds_its_facts(self) -> None:
        looked_at = 0
        for path, call in _calls():
            code = call.args[0]
            if not isinstance(code, ast.Constant) or any(word.arg is None for word in call.keywords):
                continue
            facts = {word.arg for word in call.keywords}
            wanted = _placeholders(CATALOGUE[str(code.value)])
            self.assertLessEqual(wanted, facts, f"{path.name}:{call.lineno} {code.value!r}: facts that are missing")
            looked_at += 1
        self.assertGreater(looked_at, 250)

    def test_no_template_is_left_over(self) -> None:
        used: set[str] = set()
        patterns = []
        for path in _PYTHON:
            if "catalogue" in path.parts:
                continue
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.Constant) and isinstance(node.value, str):
                    used.add(node.value)
                elif isinstance(node, ast.JoinedStr) and not any(
                    isinstance(part, ast.Constant) and " " in str(part.value) for part in node.values
                ):
                    patterns.append(re.compile(_pattern(node)))
        patterns = [one for one in patterns if one.pattern.replace(r"\w+", "")]
        over = [
            code
            for code in (key.partition("@")[0] for key in CATALOGUE)
            if code not in used and not any(one.fullmatch(code) for one in patterns)
        ]
        self.assertEqual(over, [])


def _given_up(where: str) -> list[str]:
    rows = re.findall(r"^\| ([^|]+) \| [^|]+ \| (everywhere|shown) \|$", (ROOT / "docs" / "words.md").read_text(), re.M)
    return [words.strip() for words, place in rows if place == "everywhere" or place == where]


def _shown() -> Iterator[tuple[str, str]]:
    """Return what people read: templates, texts in Python (not docstrings), strings and texts of the screens."""
    for code, template in CATALOGUE.items():
        yield f"catalogue {code}", re.sub(r"\{[^}]*\}", "X", template)
    for path in _PYTHON:
        if "catalogue" in path.parts:
            continue
        tree = ast.parse(path.read_text())
        docs = {
            id(node.body[0].value)
            for node in ast.walk(tree)
            if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef)
            and node.body
            and isinstance(node.body[0], ast.Expr)
        }
        for node in ast.walk(tree):
            if isinstance(node, ast.Constant) and " " in str(node.value) and id(node) not in docs:
                yield f"{path.name}:{node.lineno}", str(node.value)
    for path in sorted((ROOT / "web" / "src").rglob("*.ts*")):
        if path.name == "schema.d.ts":
            continue
        for text in re.findall(r'"([^"\n]* [^"\n]*)"|>([^<>{}]+)<|`([^`]* [^`]*)`', path.read_text()):
            said = re.sub(r"\$\{[^}]*\}", "X", "".join(text))
            if not re.search(r"[=;()&]|^\s|[?:] *$", said):  # code between two texts
                yield path.name, said


class GivenUp(unittest.TestCase):
    """The words of docs/words.md that are no longer ours."""

    def test_no_screen_paper_or_message_uses_them(self) -> None:
        words = re.compile(rf"\b({'|'.join(map(re.escape, _given_up('shown')))})\b", re.I)
        found = [(where, text[:90]) for where, text in _shown() if words.search(text)]
        self.assertEqual(found, [], "\n".join(map(str, found)))

    def test_no_code_or_document_uses_them(self) -> None:
        words = re.compile(rf"\b({'|'.join(map(re.escape, _given_up('everywhere')))})\b", re.I)
        files = [
            *_PYTHON,
            *(ROOT / "docs").glob("**/*.md"),
            ROOT / "README.md",
            ROOT / "calm",
            ROOT / "start",
            *(ROOT / "web" / "src").rglob("*.ts*"),
        ]
        found = [
            (path.name, number, line.strip()[:90])
            for path in files
            if path.name != "words.md"
            for number, line in enumerate(path.read_text().splitlines(), start=1)
            if words.search(line)
        ]
        self.assertEqual(found, [], "\n".join(map(str, found)))

    def test_the_list_is_read(self) -> None:
        self.assertIn("anew", _given_up("shown"))
        self.assertGreater(len(_given_up("shown")), len(_given_up("everywhere")))
        self.assertNotIn("anew", json.dumps(CATALOGUE))
