"""Errors of a validation in words: every kind says what is allowed, no class name shows, nothing is hidden."""

import unittest
from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError, model_validator

from server.formats.text import exact_number, file_text, iso_day
from server.words.faults import SeveralFaults, every_fault, faults_of


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Round(_Part):
    kind: Literal["round"]
    across: Annotated[int, Field(gt=0, le=100, strict=True)]


class Square(_Part):
    kind: Literal["square"]
    side: int


class Sample(_Part):
    name: Annotated[str, Field(min_length=1, max_length=5)]
    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")] = "ALM"
    price: Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, max_digits=6, decimal_places=2)] = Decimal(1)
    day: Annotated[date, BeforeValidator(iso_day)] = date(2026, 1, 1)
    flag: bool = False
    few: Annotated[list[int], Field(min_length=1, max_length=2)] = [1]
    shapes: list[Annotated[Round | Square, Field(discriminator="kind")]] = []

    @model_validator(mode="after")
    def _together(self) -> "Sample":
        if self.name == "bad":
            raise SeveralFaults(["the first thing is wrong", "so is the second"])
        return self


def faults(value: Any) -> dict[str, str]:
    try:
        Sample.model_validate(value)
    except ValidationError as error:
        return dict(every_fault(Sample, value, error))
    raise AssertionError("nothing was wrong")


class Words(unittest.TestCase):
    def test_every_kind_of_error_says_what_is_allowed(self) -> None:
        cases: list[tuple[dict[str, Any], str, str]] = [
            ({}, "name", "is missing"),
            ({"name": ""}, "name", "must not be empty (given: '')"),
            ({"name": "too long"}, "name", "must be at most 5 letters long (given: 'too long')"),
            ({"name": 7}, "name", "must be text (given: '7')"),
            ({"name": None}, "name", "must be text (given: nothing)"),
            (
                {"name": "a", "country": "Alm"},
                "country",
                "must be two or three capital letters, such as ALM (given: 'Alm')",
            ),
            ({"name": "a", "price": "-1"}, "price", "must be at least 0 (given: '-1')"),
            ({"name": "a", "price": "1.234"}, "price", "has more than 2 decimal places (given: '1.234')"),
            ({"name": "a", "price": "12345.67"}, "price", "has more than 6 digits (given: '12345.67')"),
            ({"name": "a", "price": True}, "price", "must be a number, such as 2.50"),
            ({"name": "a", "flag": "perhaps"}, "flag", "must be true or false (given: 'perhaps')"),
            ({"name": "a", "few": []}, "few", "needs at least 1; there are 0"),
            ({"name": "a", "few": [1, 2, 3]}, "few", "at most 2; there are more"),
            ({"name": "a", "few": "x"}, "few", "must be a list (given: 'x')"),
            ({"name": "a", "few": [1.5]}, "few[0]", "must be a whole number (given: '1.5')"),
            ({"name": "a", "shapes": [3]}, "shapes[0]", "must be an object with fields (given: '3')"),
            ({"name": "a", "shapes": [{}]}, "shapes[0]", "needs the field 'kind', which says what it is"),
            ({"name": "a", "shapes": [{"kind": "oval"}]}, "shapes[0]", "'kind' must be one of 'round', 'square'"),
        ]
        for value, path, words in cases:
            told = faults(value)
            self.assertIn(path, told, value)
            self.assertEqual(told[path], words, value)
            self.assertNotRegex(" ".join(told.values()), "Sample|Round|Square|Input should|Extra inputs")

    def test_a_path_stands_as_in_the_document_without_names_of_kinds(self) -> None:
        told = faults({"name": "a", "shapes": [{"kind": "round", "across": 0}, {"kind": "round", "across": 101}]})
        self.assertEqual(set(told), {"shapes[0].across", "shapes[1].across"})
        self.assertTrue(told["shapes[0].across"].startswith("must be above 0"))
        self.assertTrue(told["shapes[1].across"].startswith("must be at most 100"))

    def test_an_unknown_field_is_answered_by_those_that_are_known_there(self) -> None:
        told = faults({"name": "a", "shapes": [{"kind": "square", "side": 1, "sied": 2}]})
        self.assertEqual(told["shapes[0].sied"], "is not a field here; did you mean side? Allowed: kind, side")
        self.assertTrue(
            faults({"name": "a", "zzz": 1})["zzz"].startswith("is not a field here; allowed: name, country")
        )

    def test_a_misspelt_field_hides_no_check_of_the_whole_and_each_error_is_its_own_line(self) -> None:
        value = {"name": "bad", "colour": "red"}
        with self.assertRaises(ValidationError) as caught:
            Sample.model_validate(value)
        alone = faults_of(caught.exception, Sample)
        self.assertEqual([path for path, _ in alone], ["colour"])
        every = every_fault(Sample, value, caught.exception)
        self.assertEqual([words for _, words in every[1:]], ["the first thing is wrong", "so is the second"])
        self.assertEqual(value, {"name": "bad", "colour": "red"})  # what was sent is left as it was


class Plain(unittest.TestCase):
    def test_numbers_in_digits_only(self) -> None:
        for good in ("0", "0.00", "12.5", "-3", 7, 0.62, Decimal("1.5")):
            exact_number(good)
        self.assertEqual(exact_number(0.62), "0.62")
        for bad in ("1_000", "-0", "-0.0", "1e3", "1,5", ".5", "5.", "", "NaN", "٣", True, 1e30):
            with self.assertRaises(ValueError, msg=repr(bad)):
                exact_number(bad)

    def test_days_without_a_time(self) -> None:
        self.assertEqual(iso_day("2026-11-24"), "2026-11-24")
        self.assertEqual(iso_day(date(2026, 11, 24)), date(2026, 11, 24))
        for bad in (1_795_478_400, "1795478400", "2026-11-24T00:00:00", "24.11.2026", "2026-1-4", None):
            with self.assertRaises(ValueError, msg=repr(bad)):
                iso_day(bad)

    def test_encodings_are_told_apart(self) -> None:
        for text in ("Véra", "plain", "Łódź"):
            self.assertEqual(file_text(text.encode()).text, text)
        self.assertEqual(file_text("Véra".encode("cp1252")).encoding, "windows-1252")
        self.assertEqual(file_text("Véra".encode("utf-16")).text, "Véra")
        for broken in (b"a\x81b", b"\xe9\x00", b"\xff\xfea"):
            with self.assertRaisesRegex(ValueError, "is no text"):
                file_text(broken)
