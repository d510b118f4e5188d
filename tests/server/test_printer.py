"""The label printer: what it refuses waits and loses nothing; a label printed again is a marked copy."""

from typing import Any

from server.bench.models import PrintJob
from server.bench.papers import label_sheet
from server.bench.printing import print_waiting
from server.bench.selectors import parcels_of
from server.carriers.models import Label
from server.formats.pdf import label_pdf
from server.standins.models import PrintedSheet
from tests.server.base import DemoCase


class Printer(DemoCase):
    def mood(self, mode: str) -> None:
        self.ask("put", "standins/printer", {"mode": mode})

    def print(self, *numbers: str, status: int = 200) -> Any:
        ids = [self.order(number).parcels.get().pk for number in numbers]
        return self.ask("post", "printer/labels", {"parcel_ids": ids}, status=status)

    def sheets(self) -> list[tuple[str, int]]:
        rows = PrintedSheet.objects.of(self.workshop).order_by("id")
        return [(row.title.split()[0], row.sheets) for row in rows]

    def test_labels_are_printed_in_the_order_they_were_asked_for(self) -> None:
        self.labelled("1165"), self.labelled("1166")
        answer = self.print("1166", "1165")
        self.assertEqual((answer["state"], answer["waiting"]), ("ready", 0))
        self.assertEqual(self.sheets(), [("1166", 1), ("1165", 1)])

    def test_what_the_printer_refuses_waits_and_comes_out_later_once(self) -> None:
        self.labelled("1165"), self.labelled("1166")
        for mode in ("out_of_labels", "jammed", "offline"):
            self.mood(mode)
            answer = self.print("1165", "1166")  # asked again, it waits once
            self.assertEqual((answer["state"], answer["waiting"]), (mode, 2))
            self.assertEqual(answer["jobs"][0]["problem"], mode)
        self.assertEqual(self.sheets(), [])
        self.mood("well")
        self.assertEqual(print_waiting(self.workshop), 2)
        self.assertEqual(print_waiting(self.workshop), 0)
        self.assertEqual(self.sheets(), [("1165", 1), ("1166", 1)])

    def test_a_second_print_is_a_marked_copy(self) -> None:
        self.labelled("1165")
        self.print("1165")
        self.print("1165")
        copies = list(PrintJob.objects.of(self.workshop).order_by("id").values_list("copy", flat=True))
        self.assertEqual(copies, [1, 2])
        parcel = parcels_of(self.workshop, self.order("1165").pk).get()
        sheet = label_sheet(self.workshop, parcel, Label.objects.of(self.workshop).get(parcel=parcel))
        self.assertNotEqual(label_pdf(sheet), label_pdf(sheet, copy=2))

    def test_a_printer_that_prints_twice_is_told_of(self) -> None:
        self.labelled("1165")
        self.mood("twice")
        self.assertEqual(self.print("1165")["jobs"][0]["sheets"], 2)

    def test_a_label_that_was_given_back_meanwhile_is_not_printed(self) -> None:
        parcel = self.labelled("1165")
        self.mood("jammed")
        self.print("1165")
        self.ask("post", f"parcels/{parcel['id']}/label/void", {})
        self.mood("well")
        self.ask("post", "printer/again", {})
        self.assertEqual(self.sheets(), [])
        self.assertEqual(PrintJob.objects.of(self.workshop).get().state, "cancelled")

    def test_a_parcel_without_a_label_is_named_and_nothing_is_queued(self) -> None:
        self.labelled("1165")
        self.weighed("1166")
        refused = self.print("1165", "1166", status=409)
        self.assertIn("1166", refused["detail"])
        self.assertEqual(PrintJob.objects.of(self.workshop).count(), 0)

    def test_a_waiting_label_is_taken_out_and_a_printed_one_is_not(self) -> None:
        self.labelled("1165")
        self.mood("offline")
        job = self.print("1165")["jobs"][0]
        self.assertEqual(self.ask("delete", f"printer/jobs/{job['id']}")["waiting"], 0)
        self.assertEqual(self.ask("delete", f"printer/jobs/{job['id']}", status=409)["code"], "not_waiting")
        self.assertEqual(self.ask("delete", "printer/jobs/999", status=404)["code"], "not_found")
