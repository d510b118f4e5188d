"""Files that somebody cut, swapped or scribbled on: never a crash, never half imported."""

import json
import os
import random
from dataclasses import replace
from datetime import date
from typing import ClassVar

from django.db import transaction
from django.test import TestCase

from core.tariffs.model import Place, Sending
from core.tariffs.quote import quote_all
from core.units import Size
from server.api.problems import Refused
from server.commands.intake import import_kind
from server.formats.tariff import TariffFile
from server.workshops.models import Workshop
from tests.faults.broken_files import MARRAM, importers_of, let_in, scribbled
from tests.server.base import DEMO, DemoCase, fill_workshop, make_workshop

#: More with CALM_LONG=1.
TARIFF_ROUNDS = 2_000 if os.environ.get("CALM_LONG") else 300
FILES = 4_000 if os.environ.get("CALM_LONG") else 440


class EveryImporter(DemoCase):
    def test_broken_files_crash_nothing_and_leave_nothing(self) -> None:
        for number in ("1160", "1161", "1162"):
            self.sent(number)
        found = let_in(importers_of(self.owner), FILES, "in the tests")
        self.assertEqual(found.wrong, [])
        self.assertEqual(found.files, FILES)
        self.assertGreater(sum(found.refused.values()), FILES // 2, "hardly anything is refused")
        self.assertGreater(sum(found.taken.values()), FILES // 20, "nothing was taken: the files say nothing")


class BrokenTariffs(TestCase):
    workshop: ClassVar[Workshop]

    @classmethod
    def setUpTestData(cls) -> None:
        cls.workshop = make_workshop("broken")
        fill_workshop(cls.workshop, orders=False)

    def test_scribbled_tariffs_that_are_taken_quote_or_refuse(self) -> None:
        paths = sorted([*(DEMO / "tariffs").glob("*.json"), *(DEMO / "carriers").rglob("*.json")])
        # The list that uses all of version 2 comes as often as the others together.
        documents = [json.loads(path.read_text()) for path in paths]
        documents = [one for path in documents for one in (path, json.loads(MARRAM.read_text()))]
        rng, refused = random.Random("tariffs"), 0
        for at in range(TARIFF_ROUNDS):
            changed = scribbled(documents[at % len(documents)], rng)
            try:
                with transaction.atomic():
                    import_kind(self.workshop, "tariff", json.dumps(changed).encode(), by="t")
                    transaction.set_rollback(True)
            except Refused:
                refused += 1
                continue
            self.quotes_or_refuses(TariffFile.model_validate(changed))
        self.assertGreater(refused, TARIFF_ROUNDS // 3)
        self.assertLess(refused, TARIFF_ROUNDS)

    def quotes_or_refuses(self, file: TariffFile) -> None:
        """What was let in must answer for any parcel: with a price or with a refusal."""
        tariff = replace(file.core(), valid_from=date(2026, 1, 1))
        sending = Sending(destination=Place(country="ALM", postcode="QH71"), ship_on=date(2026, 11, 25))
        for side, weight in ((40_000, 60_000), (400_000, 12_000_000)):
            size = Size(length_um=side, width_um=side, height_um=side // 20)
            quotes, refusals = quote_all((tariff,), outer=size, gross_mg=weight, sending=sending)
            self.assertEqual(len(quotes) + len(refusals), len(tariff.services))

    def test_text_cut_off_anywhere_is_said_to_be_no_json(self) -> None:
        text = (DEMO / "recipes" / "preserve-250.json").read_bytes()
        for cut in range(1, len(text) - 2, 251):
            with self.assertRaises(Refused) as caught:
                import_kind(self.workshop, "recipe", text[:cut], by="t")
            self.assertEqual(caught.exception.code, "not_json")
