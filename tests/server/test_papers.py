"""Label and slip: the right size, SAMPLE on it, codes that a scanner reads back."""

import re
import subprocess
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from server.formats.pdf import LabelSheet, SlipSheet, label_pdf, slip_pdf
from tests.server.base import DemoCase

SHEET = LabelSheet(
    service="Larkline Two-day",
    sender=("Hollin Row", "3 Hollin Row", "Dunmere"),
    buyer="Žofie Łukášová-Thorrold of the Very Long House Name",
    address=("10 Fuller's Court", "Dunmere"),
    postcode="DM4 6",
    country="ALM",
    tracking="LA12345678905",
    order_number="1184",
    weight_mg=1_237_000,
    unit_system="metric",
    marks=("Fragile", "This way up"),
)


def run(*command: str) -> str:
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    # zbarimg says 4 when one of several pages holds no code.
    if done.returncode not in ((0, 4) if command[0] == "zbarimg" else (0,)):
        raise AssertionError(done.stderr)
    return done.stdout


def read_back(pdf: bytes) -> tuple[set[str], str, str]:
    """Return the codes a scanner reads at 203 dpi, the text, and the page size."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "paper.pdf"
        path.write_bytes(pdf)
        run("pdftoppm", "-r", "203", "-png", str(path), str(Path(folder) / "page"))
        pages = sorted(str(p) for p in Path(folder).glob("page*.png"))
        codes = set(run("zbarimg", "--quiet", *pages).splitlines())
        return codes, run("pdftotext", str(path), "-"), run("pdfinfo", str(path))


class Papers(unittest.TestCase):
    def test_the_label_is_100_by_150_says_sample_and_both_codes_read_back(self) -> None:
        codes, text, info = read_back(label_pdf(SHEET))
        self.assertEqual(codes, {"CODE-128:LA12345678905", "QR-Code:LA12345678905 ALM DM4 6"})
        self.assertIn("SAMPLE", text)
        self.assertIn("Łukášová", text)
        width, height = (float(n) / 72 * 25.4 for n in re.search(r"Page size:\s+([\d.]+) x ([\d.]+)", info).groups())  # type: ignore[union-attr]
        self.assertEqual((round(width), round(height)), (100, 150))

    def test_an_address_of_four_lines_is_whole(self) -> None:
        lines = ("Marlow & Sons", "Back door", "5 High St", "Tidwell Sands")
        _, text, _ = read_back(label_pdf(replace(SHEET, address=lines)))
        for line in lines:
            self.assertIn(line, text)

    def test_the_slip_carries_every_line_and_the_orders_code(self) -> None:
        lines = tuple((n, f"Goods number {n}", f"SKU-{n}") for n in range(1, 31))
        codes, text, info = read_back(
            slip_pdf(
                SlipSheet(
                    workshop="Hollin Row",
                    sender=("3 Hollin Row",),
                    order_number="1184",
                    placed_on="2026-11-23",
                    buyer="Ismay",
                    address=("Marlow & Sons", "Back door", "5 High St", "Dunmere", "DM4 6 ALM"),
                    lines=lines,
                    note="Leave it with the neighbour, please. " * 6,
                    buyer_notes=("Keep the paper collar, it is part of it.",),
                    part="",
                )
            )
        )
        self.assertEqual(codes, {"CODE-128:1184"})
        self.assertTrue(all(f"Goods number {n}" in text for n in range(1, 31)))
        self.assertIn("Keep the paper collar", text)
        self.assertIn("DM4 6 ALM", text)
        self.assertIn("Pages:           3", info)

    def test_the_same_values_give_the_same_bytes(self) -> None:
        self.assertEqual(label_pdf(SHEET), label_pdf(SHEET))


class OverHttp(DemoCase):
    def test_the_label_of_a_parcel_carries_its_tracking_number(self) -> None:
        parcel = self.weighed("1160")
        self.assertEqual(self.ask("get", f"parcels/{parcel['id']}/label.pdf", status=409)["code"], "no_label")
        bought = self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"})
        answer = self.ask("get", f"parcels/{parcel['id']}/label.pdf")
        codes, text, _ = read_back(answer.content)
        self.assertIn(f"CODE-128:{bought['label']['tracking']}", codes)
        self.assertIn("Ottilie Fenner", text)
        self.assertTrue(self.ask("get", f"parcels/{parcel['id']}/slip.pdf").content.startswith(b"%PDF"))
