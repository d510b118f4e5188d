"""The one place where sentences are made: units by the ending of a fact, plurals, joins, digits that tell apart."""

import unittest
from datetime import date
from decimal import Decimal
from typing import Any
from unittest import mock

from core.messages import Fact, Message, say
from server.words import IMPERIAL, METRIC, words_of
from server.words.catalogue import CATALOGUE
from server.words.render import day_words, is_message

D = Decimal


class Rendering(unittest.TestCase):
    def write(self, template: str, system: str = "metric", **facts: Any) -> str:
        with mock.patch.dict(CATALOGUE, {"test": template}):
            return words_of(system).of(say("test", **facts))

    def test_a_fact_is_shown_as_its_ending_says(self) -> None:
        cases: list[tuple[str, Any, str, str]] = [
            ("gap_um", 254_000, "254 mm", "10.0 in"),
            ("gross_mg", 430_000, "430 g", "15.2 oz"),
            ("gross_mg", 2_840_000, "2.840 kg", "6 lb 4.2 oz"),
            ("void_l", D("20.816"), "20.8 l", "0.74 cu ft"),
            ("tape_m", D("3.012"), "3.01 m", "9.9 ft"),
            ("sheet_m2", D("0.259768"), "0.26 m2", "2.8 sq ft"),
            ("volume_cm3", 5_000, "5000 cm3", "305 cu in"),
            ("divisor_per_kg", 5_000, "5000 cm3 per kg", "138 cu in per lb"),
            ("price_money", D("5.50"), "5.50", "5.50"),
            ("fuel_percent", D("6.5"), "6.5", "6.5"),
            ("leaves_on", date(2026, 12, 1), "Tue 1 Dec", "Tue 1 Dec"),
            ("outer_size_um", (320_000, 230_000, 170_000), "320 x 230 x 170 mm", "12.6 x 9.1 x 6.7 in"),
            ("count", 3, "3", "3"),
        ]
        for name, value, metric, imperial in cases:
            template = "{" + name + "}"
            self.assertEqual(self.write(template, **{name: value}), metric, name)
            self.assertEqual(self.write(template, "imperial", **{name: value}), imperial, name)

    def test_a_number_takes_the_word_that_goes_with_it(self) -> None:
        template = "{n} {n:order|orders}"
        self.assertEqual([self.write(template, n=n) for n in (0, 1, 2)], ["0 orders", "1 order", "2 orders"])

    def test_lists_are_joined_as_they_are_read(self) -> None:
        for spec, one, three in (
            ("", "a", "a, b, c"),
            (":and", "a", "a, b and c"),
            (":or", "a", "a, b or c"),
            (":semicolons", "a", "a; b; c"),
            (":after", "a", "a b c"),
        ):
            template = "{all" + spec + "}"
            self.assertEqual(self.write(template, all=("a",)), one, spec)
            self.assertEqual(self.write(template, all=("a", "b", "c")), three, spec)
            # What is empty leaves no comma behind.
            self.assertNotIn(",,", self.write("{all}", all=("a", "", "c")))

    def test_remarks_become_sentences_only_when_there_are_several(self) -> None:
        self.assertEqual(self.write("{all:sentences}", all=("fold it",)), "fold it")
        self.assertEqual(self.write("{all:sentences}", all=("fold it", "Press.")), "fold it. Press.")

    def test_two_measures_that_round_alike_are_told_apart(self) -> None:
        template = "takes {limit_mg:vs value_mg}; it is {value_mg:vs limit_mg}, {over_mg:over} over"
        told = self.write(template, limit_mg=500_000, value_mg=500_200, over_mg=200)
        self.assertEqual(told, "takes 500 g; it is 500.2 g, 0.2 g over")
        equal = self.write("{a_um:vs b_um} and {b_um:vs a_um}", a_um=80_000, b_um=80_000)
        self.assertEqual(equal, "80 mm and 80 mm")
        self.assertEqual(self.write("{a_um:vs b_um}", "imperial", a_um=80_000, b_um=79_990), "3.1496 in")

    def test_an_owner_stands_before_what_does_not_say_whose_it_is(self) -> None:
        template = "{service:of carrier}"
        self.assertEqual(self.write(template, service="Larkline Packet", carrier="Larkline"), "Larkline Packet")
        self.assertEqual(
            self.write(template, service="Wending Parcel", carrier="Wending Post"), "Wending Post, Wending Parcel"
        )

    def test_capitals_and_small_letters_at_the_beginning(self) -> None:
        self.assertEqual(self.write("{what:cap}", what="one jar"), "One jar")
        self.assertEqual(self.write("{what:low}", what="The kraft"), "the kraft")

    def test_a_system_may_have_its_own_words(self) -> None:
        message = say("bad_measure", text="x", what=say("measure_weight"), allowed=say("allowed_weight"))
        self.assertIn("g or kg", METRIC.of(message))
        self.assertIn("oz or lb", IMPERIAL.of(message))

    def test_messages_inside_messages_and_answers_are_written_too(self) -> None:
        inner = say("fill_sheet", count_number=D("1.5"))
        with mock.patch.dict(CATALOGUE, {"test": "take {what}"}):
            stored = {"code": "test", "facts": [["what", {"code": inner.code, "facts": [["count_number", "1.5"]]}]]}
            self.assertTrue(is_message(stored))
            answer = {"rows": [stored, {"code": "C-14", "facts": {}}], "plain": "as it is", "n": 3}
            written = METRIC.within(answer)
        self.assertEqual(written["rows"][0], "take 1.5 sheets")
        self.assertEqual(written["rows"][1:], [{"code": "C-14", "facts": {}}])
        self.assertEqual((written["plain"], written["n"]), ("as it is", 3))

    def test_a_message_cannot_be_put_into_a_sentence_by_accident(self) -> None:
        message = say("weight_as_planned")
        with self.assertRaises(TypeError):
            _ = f"told: {message}"
        with self.assertRaises(TypeError):
            str(message)
        self.assertIn("weight_as_planned", repr(message))

    def test_facts_are_plain_so_that_a_message_read_back_is_equal(self) -> None:
        message = say("x", amount_money=D("1.50"), on=date(2026, 12, 1), n=3, texts=("a", "b"))
        facts: dict[str, Fact] = dict(message.facts)
        self.assertEqual(facts, {"amount_money": "1.50", "on": "2026-12-01", "n": 3, "texts": ("a", "b")})
        self.assertEqual(message, Message(code="x", facts=tuple(facts.items())))
        self.assertEqual(message.fact("n"), 3)
        with self.assertRaises(KeyError):
            message.fact("none")
        self.assertIs(say("bare"), say("bare"))

    def test_days_are_short(self) -> None:
        self.assertEqual(day_words(date(2026, 11, 9)), "Mon 9 Nov")
