"""Every operation as the description tells it, asked with values drawn from it: no fault of the program, and only
answers of a status, type and shape that are described. Bounded here; ``CALM_DRAWN=50 ./test tests.faults`` asks more.
"""

import json
import os
import random
from collections.abc import Collection, Sequence
from contextlib import suppress
from typing import Any
from urllib.parse import urlencode

import requests
import schemathesis
from django.db import transaction
from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis.errors import Unsatisfiable
from schemathesis.checks import not_a_server_error
from schemathesis.core.parameters import ParameterLocation
from schemathesis.generation import GenerationMode
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    negative_data_rejection,
    response_schema_conformance,
    status_code_conformance,
)

from server.bench.models import Parcel
from server.config.env import ROOT
from server.orders.models import Order
from server.outcomes.models import Arrival
from server.recipes.models import Product, Recipe
from server.supplies.models import Supply
from tests.server.base import DemoCase

#: So many values for each operation.
DRAWN = int(os.environ.get("CALM_DRAWN", "4"))
#: The description itself.
_LEFT_OUT = {"schema"}
_CHECKS = (not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance)


class Described(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.client.raise_request_exception = False
        parcel = self.labelled("1160")["id"]
        self.sent("1161")
        #: What is there: a number drawn at random would be found nowhere.
        self.there = {
            "order_id": Order.objects.of(self.workshop).filter(state="planned").values_list("pk", flat=True)[0],
            "supply_id": self.supply("C-14").pk,
            "recipe_id": Recipe.objects.of(self.workshop).values_list("pk", flat=True)[0],
            "product_id": Product.objects.of(self.workshop).values_list("pk", flat=True)[0],
            "parcel_id": parcel,
            "arrival_id": Arrival.objects.of(self.workshop).values_list("pk", flat=True)[0],
            "month": "2026-11",
            "number": 1,
        }
        self.assertTrue(Supply.objects.of(self.workshop).exists() and Parcel.objects.of(self.workshop).exists())

    def answered(self, case: Any) -> schemathesis.Response:
        """Ask as a browser would, undo what came of it, and return the answer as schemathesis reads one."""
        path = case.formatted_path + (f"?{urlencode(case.query, doseq=True)}" if case.query else "")
        body = None if isinstance(case.body, schemathesis.core.NotSet) else case.body
        cookies = dict(self.client.cookies)
        with transaction.atomic():
            if case.method.upper() == "GET":
                answer = self.client.get(path)
            else:
                answer = self.client.generic(
                    case.method, path, _sent(body), content_type=case.media_type or "application/json"
                )
            content = b"".join(answer.streaming_content) if answer.streaming else answer.content
            transaction.set_rollback(True)
        self.client.cookies.clear()
        self.client.cookies.update(cookies)
        return schemathesis.Response(
            status_code=answer.status_code,
            headers={name.lower(): [value] for name, value in answer.headers.items()},
            content=content,
            request=requests.Request(case.method, f"http://testserver{path}").prepare(),
            elapsed=0.0,
            verify=False,
        )

    def asked(self, mode: GenerationMode, checks: Sequence[Any], most: int, methods: Collection[str] = ()) -> list[int]:
        """Ask every operation (of these methods) for values of one kind; return the statuses of the answers."""
        schema = schemathesis.openapi.from_path(str(ROOT / "server" / "api" / "openapi.json"))
        chance, statuses = random.Random(3), list[int]()
        for result in schema.get_all_operations():
            operation = result.ok()  # type: ignore[union-attr]
            if operation.definition.raw.get("operationId") in _LEFT_OUT or (
                methods and operation.method not in methods
            ):
                continue

            @seed(5)
            @settings(
                max_examples=most, database=None, deadline=None, phases=(Phase.generate,),
                suppress_health_check=list(HealthCheck),
            )  # fmt: skip
            @given(case=operation.as_strategy(generation_mode=mode))
            def ask(case: Any) -> None:
                body = case.meta.components.get(ParameterLocation.BODY)
                if mode is GenerationMode.NEGATIVE and (body is None or body.mode is not mode):
                    return  # what is wrong stands in the address or a heading
                for name in case.path_parameters or {}:
                    if name in self.there and chance.random() < 0.8:
                        case.path_parameters[name] = self.there[name]
                answer = self.answered(case)
                statuses.append(answer.status_code)
                try:
                    case.validate_response(answer, checks=checks)
                except BaseExceptionGroup as error:  # which no other process could be told
                    raise AssertionError("\n".join(str(one) for one in error.exceptions)[:2_000]) from None

            with self.subTest(operation=operation.label), suppress(Unsatisfiable):
                ask()
        return statuses

    def test_every_operation_answers_as_described(self) -> None:
        statuses = self.asked(GenerationMode.POSITIVE, _CHECKS, DRAWN)
        self.assertGreater(len(statuses), 250)
        self.assertLessEqual({200, 404, 422}, set(statuses))

    def test_what_the_description_rules_out_is_refused(self) -> None:
        statuses = self.asked(
            GenerationMode.NEGATIVE, (not_a_server_error, negative_data_rejection), max(1, DRAWN // 2),
            ("post", "put", "patch"),
        )  # fmt: skip
        self.assertGreater(len(statuses), 100)


def _sent(body: Any) -> Any:
    """Return a drawn body as it is sent."""
    return body if isinstance(body, str | bytes) else json.dumps(body)
