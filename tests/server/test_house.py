"""Rules of the house that no linter holds: scoping, files, addresses."""

import re
import subprocess
import unittest

from server.config.env import ROOT


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

    def test_the_screenshots_are_few_and_linked(self) -> None:
        shots = tracked("docs/screenshots/*.png")
        readme = (ROOT / "README.md").read_text()
        self.assertLess(len(shots), 20)
        for shot in shots:
            self.assertIn(shot, readme)
