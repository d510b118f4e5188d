"""Answers remembered by all they rest on: given again for the same, worked out for anything else."""

import unittest
from dataclasses import dataclass
from decimal import Decimal

from server.workshops.remembered import Remembered


@dataclass(frozen=True)
class About:
    code: str
    price: Decimal


class RememberedAnswers(unittest.TestCase):
    def setUp(self) -> None:
        self.worked: list[About] = []
        self.answers: Remembered[str] = Remembered(most=2)

    def ask(self, code: str, price: str) -> str:
        about = About(code, Decimal(price))

        def work() -> str:
            self.worked.append(about)
            return f"{about.code} {about.price}"

        return self.answers.of(about, work)

    def test_the_same_is_worked_out_once_and_another_figure_by_itself(self) -> None:
        self.assertEqual([self.ask("a", "1"), self.ask("a", "1"), self.ask("a", "2")], ["a 1", "a 1", "a 2"])
        self.assertEqual(len(self.worked), 2)

    def test_the_one_longest_not_asked_for_is_forgotten(self) -> None:
        for code in "abac":  # b goes: a was asked for since
            self.ask(code, "1")
        self.ask("a", "1")
        self.assertEqual(len(self.worked), 3)
        self.ask("b", "1")
        self.assertEqual(len(self.worked), 4)

    def test_what_failed_is_not_remembered(self) -> None:
        def fail() -> str:
            raise ValueError

        with self.assertRaises(ValueError):
            self.answers.of("x", fail)
        self.assertEqual(self.answers.of("x", lambda: "there"), "there")
