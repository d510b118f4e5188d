"""Five thousand random requests at the buyer's page: nothing is found that is not its own, nothing breaks."""

import json
import os
import random
import string
from typing import Any
from unittest import mock

from django.core.cache import cache
from django.test import Client

from server.bench.models import Parcel
from server.outcomes.models import Arrival, ArrivalPhoto
from tests.server.test_arrivals import ArrivalCase, picture

#: More with CALM_LONG=1.
_REQUESTS = 5_000 if os.environ.get("CALM_LONG") else 1_000


class RandomRequests(ArrivalCase):
    def test_random_requests_find_nothing_and_break_nothing(self) -> None:
        type(self.workshop).objects.update(buyer_page_at="https://cupboard.example")
        own = Parcel.objects.of(self.workshop).get(pk=self.parcel["id"]).buyer_code or ""
        draw = random.Random(30)
        stranger = Client(raise_request_exception=False)
        statuses: dict[int, int] = {}
        hidden = [self.order("1160").buyer, self.workshop.name, "maren", "hollin-row"]
        with mock.patch("rest_framework.throttling.ScopedRateThrottle.allow_request", return_value=True):
            for _ in range(_REQUESTS):
                code = _code(draw, own)
                answer = _ask(stranger, draw, code)
                statuses[answer.status_code] = statuses.get(answer.status_code, 0) + 1
                text = answer.content.decode(errors="replace")
                self.assertFalse([word for word in hidden if word in text], text[:300])
                if answer.status_code == 200:
                    self.assertEqual(code, own)
        self.assertTrue(set(statuses) <= {200, 400, 404, 405, 413, 415, 422}, statuses)
        self.assertGreater(statuses[404], _REQUESTS // 3)
        self.assertLessEqual(Arrival.objects.of(self.workshop).get().photos.count(), 6)
        self.assertLessEqual(ArrivalPhoto.objects.of(self.workshop).count(), 6)

    def test_asked_too_often_it_stops_answering(self) -> None:
        cache.clear()
        stranger = Client()
        codes = [stranger.get("/api/arrived/aaaaaaaaaaaa").status_code for _ in range(25)]
        self.assertEqual((codes[0], codes[-1]), (404, 429))
        cache.clear()


def _code(draw: random.Random, own: str) -> str:
    kind = draw.random()
    if kind < 0.1:
        return own
    if kind < 0.3:  # one letter off
        at = draw.randrange(len(own))
        return own[:at] + draw.choice(string.ascii_lowercase) + own[at + 1 :] if draw.random() < 0.9 else own[:-1]
    if kind < 0.6:
        return "".join(draw.choice(string.ascii_lowercase + string.digits) for _ in range(12))
    return draw.choice(["1", "0", "..", "%00", "a" * 400, "admin", "'--", "<b>", "null", "%F0%9F%98%80", "x y"])


def _ask(client: Client, draw: random.Random, code: str) -> Any:
    path = f"/api/arrived/{code}"
    kind = draw.random()
    if kind < 0.4:
        return client.get(path)
    if kind < 0.45:
        return client.put(path, data="{}", content_type="application/json")
    body: Any = {
        "outcome": draw.choice(["whole", "broken", "lost", "", None, 3, "spoiled"]),
        "place": draw.choice([None, "corner", "inside", 1, ["corner"]]),
        "spot": draw.choice(["", "bottom-front-left", "<script>", "x" * 500, "\x00"]),
        "message": draw.choice(["", "all well", "\u202e turned", "z" * 3_000, "<img src=x onerror=alert(1)>", "\x00"]),
        "photo": draw.choice(["", "not base64!", "R0lGODlh", picture()]),
    }
    if draw.random() < 0.2:
        body = draw.choice([[], "text", 5, None, {"outcome": "whole", "workshop": 1}, {}])
    text = json.dumps(body) if draw.random() < 0.9 else draw.choice(["{", "", "\ufeff{}", "[" * 500])
    return client.post(path, data=text, content_type=draw.choice(["application/json"] * 5 + ["text/plain"]))
