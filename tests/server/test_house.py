"""Rules of the house that no linter holds: scoping, files, addresses."""

import re
import subprocess
import unittest
from typing import get_args

from core.bench.steps import StepKind
from core.recipes.damage import damage_prior
from core.recipes.goods import Fragility
from core.recipes.model import TAPE_OVERHANG_UM, InsertPer, School, TapePattern
from server.config.env import ROOT
from server.orders.models import Order
from server.recipes.models import Product
from server.supplies.models import Entry


def tracked(*patterns: str) -> list[str]:
    found = subprocess.run(
        ["git", "ls-files", "--", *patterns], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.split()
    return [name for name in found if (ROOT / name).is_file()]


class House(unittest.TestCase):
    def test_no_code_goes_round_the_scoped_manager(self) -> None:
        for name in tracked("server/*.py"):
            if "/migrations/" not in name and name != "server/workshops/models.py":
                self.assertNotIn(".unscoped", (ROOT / name).read_text(), name)

    def test_every_module_says_what_it_is_for(self) -> None:
        for name in tracked("core/*.py", "server/*.py"):
            text = (ROOT / name).read_text()
            if text.strip() and "/migrations/" not in name:
                self.assertTrue(text.startswith('"""'), name)

    def test_no_registry_address_is_committed(self) -> None:
        address = re.compile(
            "https?://[^ \"']*(" + "|".join(("py" + "pi", "npm" + "js", "deb" + "ian", "reg" + "istry")) + ")"
        )
        for name in tracked("*.lock", "*.json", "*.toml", "*.sh", "start", "test", "calm", ".ci/run", "web/.npmrc"):
            self.assertIsNone(address.search((ROOT / name).read_text()), name)

    def test_no_two_schemas_of_the_api_have_one_name(self) -> None:
        """OpenAPI keeps one of two components of a name, silently."""
        where: dict[str, list[str]] = {}
        for name in tracked("server/*.py"):
            for found in re.findall(
                r"^class ([A-Za-z]\w*)\((?:BaseModel|Body|FileModel)\)", (ROOT / name).read_text(), re.M
            ):
                where.setdefault(found, []).append(name)
        self.assertEqual({name: files for name, files in where.items() if len(files) > 1}, {})

    def test_lists_the_screens_repeat_are_those_of_the_core(self) -> None:
        words = (ROOT / "web" / "src" / "domain" / "words.ts").read_text()

        def keys(name: str) -> set[str]:
            body = re.search(rf"export const {name}[^=]*= \{{(.*?)\n\}};", words, re.S)
            assert body is not None, name
            return set(re.findall(r"^  (\w+):", body.group(1), re.M))

        self.assertEqual(keys("STATE_WORDS"), {state.value for state in Order.State})
        self.assertEqual(keys("PATTERN_WORDS"), set(get_args(TapePattern)))
        self.assertEqual(keys("SCHOOL_WORDS"), set(get_args(School)))
        # Once a parcel and once an order need no words.
        self.assertEqual(keys("PER_WORDS"), set(get_args(InsertPer)) - {"parcel", "order"})
        self.assertEqual(keys("ENTRY_WORDS"), set(Entry.KINDS))
        self.assertEqual(keys("STEP_WORDS"), set(get_args(StepKind)))
        lists = (ROOT / "web" / "src" / "domain" / "lists.ts").read_text()
        self.assertIn(f"TAPE_OVERHANG_UM = {TAPE_OVERHANG_UM:_};", lists)
        known = Product._meta.constraints
        fragility = next(one for one in known if one.name == "product_fragility_known")
        self.assertTrue(all(damage_prior(one) > 0 for one in get_args(Fragility)))
        self.assertEqual(set(fragility.condition.children[0][1]), set(get_args(Fragility)))  # type: ignore[attr-defined]

    def test_the_screenshots_are_few_and_linked(self) -> None:
        shots = tracked("docs/screenshots/*.png")
        readme = (ROOT / "README.md").read_text()
        self.assertLess(len(shots), 20)
        for shot in shots:
            self.assertIn(shot, readme)
