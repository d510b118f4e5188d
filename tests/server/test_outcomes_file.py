"""Arrivals from a file: line by line, whole or not at all, twice once; the claim on paper."""

from base64 import b64encode
from typing import Any
from unittest import mock

from server.outcomes.counting import recount
from server.outcomes.models import Arrival, Claim
from server.recipes.models import VersionArrivals
from server.workshops.happened import recipe_changed
from tests.server.test_arrivals import ArrivalCase, picture

HEAD = "order,outcome,place,spot,note,gave_back,gave_amount\n"


class FromAFile(ArrivalCase):
    def setUp(self) -> None:
        super().setUp()
        self.sent("1164")

    def file(self, text: str) -> dict[str, str]:
        return {"name": "arrivals.csv", "content": b64encode(text.encode()).decode()}

    def preview(self, text: str, status: int = 200) -> Any:
        return self.ask("post", "arrivals/import/preview", self.file(text), status=status)

    def take(self, text: str, status: int = 200) -> Any:
        return self.ask("post", "arrivals/import", self.file(text), status=status)

    def test_each_line_is_shown_and_imported(self) -> None:
        text = HEAD + "1160,broken,corner,bottom-front-left,chipped,refund,6.80\n1164,whole,,,,,\n"
        self.assertEqual(self.preview(text)["new"], 2)
        self.assertEqual(Arrival.objects.of(self.workshop).filter(outcome="unknown").count(), 2)
        self.assertEqual(self.take(text)["new"], 2)
        row = self.arrival
        self.assertEqual((row.outcome, row.source, str(row.gave_amount)), ("broken", "file", "6.80"))
        self.assertEqual((row.harms.get().place, row.harms.get().spot), ("corner", "bottom-front-left"))

    def test_a_recipe_is_counted_once_however_many_lines_tell_of_it(self) -> None:
        told: list[int] = []

        def hear(recipe_id: int, **_: object) -> None:
            told.append(recipe_id)

        recipe_changed.connect(hear)
        self.addCleanup(recipe_changed.disconnect, hear)
        with mock.patch("server.outcomes.importing.recount", wraps=recount) as counted:
            self.take(HEAD + "1160,broken,corner,,,,\n1164,broken,lid,,,,\n")
        counted.assert_called_once()
        self.assertTrue(told, "two broken parcels change no rate")
        self.assertEqual(len(told), len(set(told)))
        self.assertEqual(
            VersionArrivals.objects.of(self.workshop).get(version=self.arrival.goods.get().version).damaged, 1
        )

    def test_imported_twice_it_is_imported_once(self) -> None:
        text = HEAD + "1160,broken,lid,,,,\n"
        self.take(text)
        self.assertEqual(self.take(text)["same"], 1)
        self.assertEqual(self.arrival.revision, 1)
        self.assertEqual(self.take(HEAD + "1160,whole,,,,,\n")["changes"], 1)
        self.assertEqual(self.arrival.outcome, "whole")

    def test_by_tracking_number_in_another_program_s_columns(self) -> None:
        tracking = self.arrival.parcel.tracking
        self.take(f"Tracking;Outcome;Customer\n{tracking};LATE;somebody\n")
        self.assertEqual(self.arrival.outcome, "late")

    def test_every_wrong_line_is_named_and_nothing_is_imported(self) -> None:
        text = HEAD + (
            "1160,whole,,,,,\n9999,whole,,,,,\n1164,gone,,,,,\n1164,broken,inside,,,,\n1164,broken,,,,gift,\n"
            "1164,whole,,,,refund,lots\n,whole,,,,,\n1160,broken,,,,,\n"
        )
        told = self.preview(text)
        self.assertEqual((told["errors"], told["new"]), (6, 2))
        refused = self.take(text, status=422)
        paths = [fault["path"] for fault in refused["faults"]]
        self.assertEqual(paths[0], "line 3")
        self.assertEqual(Arrival.objects.of(self.workshop).filter(outcome="unknown").count(), 2)

    def test_a_parcel_that_stands_in_the_file_twice_is_an_error(self) -> None:
        told = self.take(HEAD + "1160,whole,,,,,\n1160,broken,,,,,\n", status=422)
        self.assertEqual(told["faults"][0]["path"], "line 3")
        self.assertEqual(self.arrival.outcome, "unknown")

    def test_a_file_that_is_no_such_table_says_what_it_needs(self) -> None:
        self.assertIn("no column outcome", self.preview("order,result\n1160,whole\n", status=422)["detail"])
        self.preview("", status=422)
        self.preview("order,outcome\n", status=422)


class OnPaper(ArrivalCase):
    def test_the_claim_is_a_pdf_with_its_photos(self) -> None:
        self.tell("broken", harms=[{"kind": "broken", "place": "lid"}], message="In pieces.\nAll of it. \u0416")
        claim = Claim.objects.of(self.workshop).get()
        plain = self.client.get(f"/api/claims/{claim.pk}/claim.pdf").content
        for _ in range(3):
            self.ask("post", f"arrivals/{self.arrival.pk}/photos", {"photo": picture()}, status=201)
        answer = self.client.get(f"/api/claims/{claim.pk}/claim.pdf")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "application/pdf"))
        self.assertGreater(len(answer.content), len(plain))
        self.assertTrue(answer.content.startswith(b"%PDF"))
