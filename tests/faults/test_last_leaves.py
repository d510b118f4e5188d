"""Scripts that share one PostgreSQL: whoever leaves last stops it (``scripts/lib.sh``)."""

import os
import shutil
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

from server.config.env import ROOT

#: Starts the cluster, says so, goes on when told to on its input, says whether the cluster answers, leaves.
_SCRIPT = """
set -euo pipefail
ROOT=$1
. "$ROOT/scripts/lib.sh"
db_up shared-pg throw-away
answers() { "$ROOT/.venv/bin/python" -c 'import os, psycopg; e = os.environ; psycopg.connect(
  host="127.0.0.1", port=e["CALM_DB_PORT"], user="app", password=e["CALM_DB_PASSWORD"], dbname="postgres"
).execute("select 1")' 2>/dev/null && echo up || echo down; }
answers
read -r _
answers
db_down
as_db "$PGBIN/pg_ctl" -D "$DB_DIR/data" status >/dev/null && echo left up || echo stopped
"""


class LastLeaves(TestCase):
    def setUp(self) -> None:
        self.root = Path(tempfile.mkdtemp(prefix="calm-shared-"))
        self.addCleanup(shutil.rmtree, self.root, ignore_errors=True)
        self.root.chmod(0o711)
        (self.root / "scripts").mkdir()
        shutil.copy(ROOT / "scripts" / "lib.sh", self.root / "scripts" / "lib.sh")
        (self.root / ".data").mkdir()
        (self.root / ".venv").symlink_to(ROOT / ".venv")

    def script(self) -> subprocess.Popen[str]:
        found = subprocess.Popen(
            ["bash", "-c", _SCRIPT, "bash", str(self.root)],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env={**os.environ, "LC_ALL": "C"},
        )  # fmt: skip
        self.addCleanup(found.stdout.close if found.stdout else lambda: None)
        self.addCleanup(found.kill)
        return found

    def line(self, of: subprocess.Popen[str]) -> str:
        assert of.stdout is not None
        return of.stdout.readline().strip()

    def go_on(self, of: subprocess.Popen[str]) -> list[str]:
        told, _ = of.communicate("on\n", timeout=60)
        return told.split("\n")[:-1]

    def test_who_began_it_leaves_it_to_who_still_uses_it(self) -> None:
        first = self.script()
        self.assertEqual(self.line(first), "up")
        second = self.script()
        self.assertEqual(self.line(second), "up")
        self.assertEqual(self.go_on(first), ["up", "left up"])
        self.assertEqual(self.go_on(second), ["up", "stopped"])

    def test_two_that_begin_at_once_share_it(self) -> None:
        both = [self.script(), self.script()]
        self.assertEqual([self.line(one) for one in both], ["up", "up"])
        ends = [self.go_on(one) for one in both]
        self.assertEqual(ends, [["up", "left up"], ["up", "stopped"]])
