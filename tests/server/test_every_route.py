"""Every API route as a stranger (401), as another workshop's owner (404) and, where the owner is needed, as a packer
(403).
"""

from base64 import b64decode, b64encode
from collections.abc import Iterator
from typing import Any
from unittest import mock
from uuid import uuid4

from django.urls import URLPattern, URLResolver, get_resolver
from django.utils import timezone

from server.api.access import TokenThrottle
from server.carriers.models import TariffVersion
from server.outcomes.models import Arrival, ArrivalPhoto, Claim
from server.recipes.models import Product
from server.workshops.tokens import SCOPES, make_token
from tests.server.base import DemoCase, make_member, make_workshop
from tests.server.test_arrivals import picture

KEY = str(uuid4())
PHOTO = b64encode(b"\x89PNG\r\n\x1a\n and more").decode()
PRODUCT = {"sku": "PRE-BLK", "name": "Preserve"}
PARCEL = {"outer_um": [1, 1, 1], "gross_weight_mg": 1, "destination": {"country": "ALM"}}
ORDER = {
    "buyer": "Ottilie Fenn",
    "address": ["2 Mill Lane", "Dunmere"],
    "postcode": "AC3 1",
    "country": "ALM",
    "lines": [{"sku": "PRE-BLK", "quantity": 1, "unit_price": "6.50"}],
}
SUPPLY = {
    "code": "C-14",
    "name": "Carton",
    "shelf": "A",
    "slot": 4,
    "unit_cost": "1",
    "facts": {
        "kind": "carton",
        "inner": {"length_um": 320_000, "width_um": 230_000, "height_um": 170_000},
        "tare_mg": 334_000,
        "max_load_mg": 12_000_000,
        "board": "double",
    },
}
PERSON = {"name": "Pim", "role": "packer"}
WORKSHOP = {
    "name": "Hollin Row",
    "address": ["3 Hollin Row", "Dunmere"],
    "postcode": "DM1 4",
    "country": "ALM",
    "time_zone": "UTC",
    "unit_system": "metric",
    "label_supply": "L-100",
    "packers_see_costs": True,
}
TRIAL = {"request_key": KEY, "version": 1, "kind": "drop", "units": 2, "passed": True, "drop_mm": 760}
BUYING = {
    "budget": None, "z": "1.645", "cover_weeks": 6, "longest_weeks": 26, "within_days": 3, "anyway_days": 10,
    "interest_percent": 20, "season": ["1"] * 12, "keeping_a_kind": "12",
}  # fmt: skip
POLICY = {"code": "typed", "base": {"kind": "flat", "amount": "5.00"}}
MONEY = {"endings": ["0.50"], "most_lost": "1", "demand_percent": None, "demand_within": "10"}
FEE = {"kind": "payment", "percent": "2.5", "from_day": "2024-01-01"}
#: route -> method -> (body, who may: "member" or "owner")
ROUTES: dict[str, dict[str, tuple[Any, str]]] = {
    "api/schema": {"get": (None, "member")},
    "api/session": {"get": (None, "member"), "delete": (None, "member")},
    "api/session/password": {"post": ({"current": "a-long-password", "new": "a-long-password"}, "member")},
    "api/session/places": {"get": (None, "member")},
    "api/session/places/<int:place_id>": {"delete": (None, "member")},
    "api/members": {"get": (None, "owner"), "post": ({**PERSON, "username": "pim"}, "owner")},
    "api/members/<int:member_id>": {"put": ({**PERSON, "active": True}, "owner")},
    "api/sample": {"post": ({}, "owner"), "delete": (None, "owner")},
    "api/workshop": {"get": (None, "member"), "put": (WORKSHOP, "owner")},
    "api/first-parcel": {"get": (None, "member")},
    "api/settings": {"get": (None, "member"), "put": ({"values": {}}, "owner")},
    "api/settings/effect": {"post": ({"values": {}}, "owner")},
    "api/settings/history": {"get": (None, "member")},
    "api/buyers": {"get": (None, "member")},
    "api/members/<int:member_id>/one-time-password": {"post": ({}, "owner")},
    "api/day": {"get": (None, "member")},
    "api/day/times": {
        "get": (None, "member"),
        "put": ({"hours": [], "hand_overs": [], "closures": []}, "owner"),
    },
    "api/day/prepared": {"post": ({"what": "freeze", "order_ids": [0], "done": True}, "member")},
    "api/day/begin": {"post": ({"order_ids": [0]}, "member")},
    "api/day/missing": {"post": ({"order_id": 0, "what": "Jar"}, "member")},
    "api/day/gather": {"get": (None, "member")},
    "api/day/gather.pdf": {"get": (None, "member")},
    "api/day/tasks.ics": {"get": (None, "member")},
    "api/day/prepare": {"get": (None, "member")},
    "api/day/calendar": {"post": ({"on": True}, "owner")},
    "api/care": {"get": (None, "member")},
    "api/care/forecast": {"get": (None, "member"), "post": ({}, "member")},
    "api/orders/<int:order_id>/care": {"get": (None, "member")},
    "api/orders/<int:order_id>/consent": {"post": ({"text": "Shall we wait?"}, "member")},
    "api/orders/<int:order_id>/consent/answer": {
        "post": ({"answer": "as_it_is", "words": "yes", "answered_on": "2026-11-01"}, "member")
    },
    "api/freezer": {
        "get": (None, "member"),
        "post": ({"supply_id": 0, "quantity": 1, "request_key": KEY}, "member"),
    },
    "api/freezer/<int:lot_id>": {"delete": (None, "member")},
    "api/day/closing/<int:parcel_id>": {"get": (None, "member")},
    "api/day/orders/<int:order_id>/moves": {
        "get": (None, "member"),
        "post": ({"hand_over": "1@2026-11-30", "service": "S"}, "member"),
    },
    "api/send-off": {"get": (None, "member")},
    "api/send-off/scan": {"post": ({"hand_over": "1@2026-11-30", "code": "1160"}, "member")},
    "api/send-off/scan/undo": {"post": ({"parcel_id": 0}, "member")},
    "api/send-off/hand-over": {"post": ({"hand_over": "1@2026-11-30", "request_key": KEY}, "member")},
    "api/send-off/sheet.pdf": {"get": (None, "member")},
    "api/send-off/<int:send_off_id>/undo": {"post": ({}, "member")},
    "api/send-off/<int:send_off_id>/tracking.csv": {"get": (None, "member")},
    "api/holds": {"get": (None, "member")},
    "api/holds/risks": {
        "get": (None, "member"),
        "put": ({"low": "pack", "medium": "hold", "high": "refuse"}, "owner"),
    },
    "api/holds/<int:order_id>": {"put": ({"answer": "Saturday", "look_again": None}, "member")},
    "api/bench/together": {"get": (None, "member")},
    "api/bench/together/done": {"post": ({"parcel_ids": [0]}, "member")},
    "api/bench/codes.pdf": {"get": (None, "member")},
    "api/printer": {"get": (None, "member")},
    "api/printer/labels": {"post": ({"parcel_ids": [0]}, "member")},
    "api/printer/again": {"post": ({}, "member")},
    "api/printer/jobs/<int:job_id>": {"delete": (None, "member")},
    "api/rail": {"get": (None, "member")},
    "api/find": {"get": (None, "member")},
    "api/supplies/convert": {
        "post": (
            {
                "inputs": [{"supply_id": 0, "quantity": "1"}],
                "output_id": 0,
                "made": "1",
                "request_key": str(uuid4()),
            },
            "member",
        )
    },
    "api/supplies/<int:supply_id>/spoil": {"post": ({"quantity": "1", "request_key": str(uuid4())}, "member")},
    "api/counts": {"get": (None, "member"), "post": ({"shelf": "Q"}, "member")},
    "api/counts/sheet.pdf": {"get": (None, "member")},
    "api/counts/<int:session_id>": {"get": (None, "member")},
    "api/counts/<int:session_id>/lines": {
        "post": ({"supply_id": 0, "counted": "1", "request_key": str(uuid4())}, "member")
    },
    "api/counts/<int:session_id>/close": {"post": ({}, "member")},
    "api/suppliers": {"get": (None, "member"), "post": ({"name": "Marlpit", "lead_days": 3}, "owner")},
    "api/suppliers/<int:supplier_id>": {
        "put": ({"name": "Marlpit Board", "lead_days": 3}, "owner"),
        "delete": (None, "owner"),
    },
    "api/suppliers/<int:supplier_id>/offers/<int:supply_id>": {
        "put": ({"pack": "1", "prices": [{"quantity": "0", "price": "1"}]}, "owner"),
        "delete": (None, "owner"),
    },
    "api/purchases": {
        "get": (None, "member"),
        "post": (
            {"supplier_id": 0, "lines": [], "delivery": "0", "expected_on": "2026-12-01", "request_key": KEY},
            "owner",
        ),
    },
    "api/purchases/<int:purchase_id>": {"get": (None, "member")},
    "api/purchases/<int:purchase_id>/receive": {"post": ({"lines": [], "request_key": KEY}, "member")},
    "api/purchases/<int:purchase_id>/expect": {"post": ({"expected_on": "2030-12-01"}, "member")},
    "api/purchases/<int:purchase_id>/cancel": {"post": ({}, "owner")},
    "api/purchases/<int:purchase_id>/order.pdf": {"get": (None, "member")},
    "api/purchases/<int:purchase_id>/order.csv": {"get": (None, "member")},
    "api/buying/cover": {"get": (None, "member")},
    "api/buying/list": {"post": ({}, "member")},
    "api/buying/asleep": {"get": (None, "member")},
    "api/buying/waiting": {"get": (None, "member")},
    "api/buying/settings": {"get": (None, "member"), "put": (BUYING, "owner")},
    "api/buying/supplies/<int:supply_id>": {"get": (None, "member")},
    "api/buying/supplies/<int:supply_id>/place": {"put": ({"room": None, "successor_id": None}, "owner")},
    "api/buying/cartons": {"get": (None, "member"), "post": ({"at_most": 3}, "owner")},
    "api/buying/cartons/<int:report_id>": {"get": (None, "member"), "delete": (None, "owner")},
    "api/fits": {"post": ({"goods": [{"product_id": 0}]}, "member")},
    "api/money/months": {"get": (None, "member")},
    "api/money/months/<str:month>": {"get": (None, "member")},
    "api/money/months/<str:month>/closed": {"post": ({}, "owner"), "delete": (None, "owner")},
    "api/money/months/<str:month>/record.csv": {"get": (None, "member")},
    "api/money/months/<str:month>/record.json": {"get": (None, "member")},
    "api/money/orders/<int:order_id>": {"get": (None, "member")},
    "api/money/products/<int:product_id>/left": {"get": (None, "member")},
    "api/money/fees": {"get": (None, "member"), "post": (FEE, "owner")},
    "api/money/fees/<int:fee_id>": {"delete": (None, "owner")},
    "api/money/charges": {"get": (None, "member")},
    "api/money/charges/runs": {"post": ({"policies": [POLICY]}, "member")},
    "api/money/charges/threshold": {"post": ({"policy": POLICY, "may_cost": "9"}, "member")},
    "api/money/charges/compared": {"get": (None, "member")},
    "api/money/charges/table.csv": {"get": (None, "member")},
    "api/money/policies": {"post": ({"name": "Five", "document": POLICY}, "owner")},
    "api/money/policies/<int:policy_id>": {"delete": (None, "owner")},
    "api/money/policies/<int:policy_id>/ours": {"put": ({"from_day": None}, "owner")},
    "api/money/settings": {"get": (None, "member"), "put": (MONEY, "owner")},
    "api/money/what-ifs": {
        "get": (None, "member"),
        "post": ({"changes": [{"kind": "wage", "per_hour": "20"}]}, "owner"),
    },
    "api/money/what-ifs/<int:what_if_id>": {"get": (None, "member"), "delete": (None, "owner")},
    "api/money/what-ifs/<int:what_if_id>/cancel": {"post": ({}, "owner")},
    "api/money/what-ifs/<int:what_if_id>/kept": {"put": ({"name": "Mine"}, "owner")},
    "api/money/what-ifs/<int:what_if_id>/what-if.csv": {"get": (None, "member")},
    "api/money/what-ifs/<int:what_if_id>/what-if.pdf": {"get": (None, "member")},
    "api/supplies": {"get": (None, "member"), "post": ({"supply": SUPPLY}, "owner")},
    "api/supplies/estimate": {"post": ({"length_um": 1, "width_um": 1, "height_um": 1, "board": "single"}, "member")},
    "api/supplies/places.pdf": {"get": (None, "member")},
    "api/supplies/starter": {"get": (None, "member"), "post": ({"supplies": [SUPPLY]}, "owner")},
    "api/supplies/<int:supply_id>": {"get": (None, "member"), "put": ({"supply": SUPPLY}, "owner")},
    "api/supplies/<int:supply_id>/arrange": {"post": ({"shelf": "A", "slot": 1}, "member")},
    "api/supplies/<int:supply_id>/bring-back": {"post": ({}, "owner")},
    "api/supplies/<int:supply_id>/uses": {"get": (None, "member")},
    "api/supplies/<int:supply_id>/retire": {"post": ({"replace_by": None}, "owner")},
    "api/supplies/<int:supply_id>/entries": {"get": (None, "member")},
    "api/supplies/<int:supply_id>/receive": {
        "post": ({"quantity": "1", "total_cost": "1", "request_key": KEY}, "member")
    },
    "api/supplies/<int:supply_id>/count": {"post": ({"counted": "1", "request_key": KEY}, "member")},
    "api/supplies/reclaimed": {
        "post": (
            {
                "length": "310 mm",
                "width": "220 mm",
                "height": "150 mm",
                "weight": "240 g",
                "board": "single",
                "shelf": "A",
                "request_key": KEY,
            },
            "member",
        )
    },
    "api/products": {"get": (None, "member"), "post": ({"product": {}}, "owner")},
    "api/products/<int:product_id>": {"get": (None, "member"), "put": ({"product": PRODUCT}, "owner")},
    "api/products/<int:product_id>/photo": {"get": (None, "member"), "put": ({"photo": PHOTO}, "owner")},
    "api/products/<int:product_id>/retire": {"post": ({"retired": False}, "owner")},
    "api/recipes/<int:recipe_id>/retire": {"post": ({"retired": False}, "owner")},
    "api/shelves": {"get": (None, "member")},
    "api/shelves/<str:letter>": {"put": ({"name": "Cartons"}, "member")},
    "api/products/file": {"get": (None, "member"), "post": ({"name": "f", "content": "YWJjZA=="}, "owner")},
    "api/recipes": {"get": (None, "member"), "post": ({"document": {}, "reason": "why"}, "owner")},
    "api/recipes/file": {"get": (None, "member"), "post": ({"name": "f", "content": "YWJjZA=="}, "owner")},
    "api/recipes/propose": {"post": ({"product_id": 0}, "member")},
    "api/recipes/preview": {"post": ({"document": {}}, "member")},
    "api/recipes/<int:recipe_id>/card.pdf": {"get": (None, "member")},
    "api/recipes/<int:recipe_id>/ways": {"post": ({"band_first": 1}, "member")},
    "api/recipes/<int:recipe_id>/compare/<int:before>/<int:after>": {"get": (None, "member")},
    "api/recipes/<int:recipe_id>/trials": {"get": (None, "member"), "post": (TRIAL, "member")},
    "api/trials/<int:trial_id>/photo": {"get": (None, "member")},
    "api/crafts": {"get": (None, "member")},
    "api/recipes/<int:recipe_id>/steps": {"get": (None, "member")},
    "api/products/<int:product_id>/unit-costs": {"get": (None, "member")},
    "api/rates/compare": {"post": (PARCEL, "member")},
    "api/tariffs": {"get": (None, "member"), "post": ({"content": "{}"}, "owner")},
    "api/tariffs/check": {"post": ({"document": {}}, "member")},
    "api/tariffs/<int:tariff_id>": {"get": (None, "member"), "delete": (None, "owner")},
    "api/tariffs/<int:tariff_id>/file": {"get": (None, "member")},
    "api/tariffs/<int:tariff_id>/steps": {
        "get": (None, "member"),
        "post": ({"content": "x", "tariff_version": "n", "valid_from": "2027-01-01"}, "owner"),
    },
    "api/tariffs/<int:tariff_id>/effect": {"get": (None, "member")},
    "api/choosing": {"get": (None, "member"), "put": ({}, "owner")},
    "api/readiness": {"get": (None, "member")},
    "api/policies": {"get": (None, "member"), "put": ({"policies": []}, "owner")},
    "api/policies/<slug:policy>/effect": {"get": (None, "member"), "post": ({"recipe_ids": [1]}, "owner")},
    "api/recipes/<int:recipe_id>": {"get": (None, "member")},
    "api/recipes/<int:recipe_id>/preview": {"post": ({"document": {}}, "member")},
    "api/recipes/<int:recipe_id>/versions": {
        "get": (None, "member"),
        "post": ({"base_version": 1, "reason": "why", "document": {}}, "owner"),
    },
    "api/recipes/<int:recipe_id>/versions/<int:number>": {"get": (None, "member")},
    "api/orders": {"get": (None, "member")},
    "api/orders/intake/preview": {"post": ({"name": "f", "content": "x"}, "member")},
    "api/orders/intake/accept": {"post": ({"name": "f", "content": "x"}, "member")},
    "api/orders/by-hand": {"post": ({"order": ORDER, "request_key": KEY}, "member")},
    "api/orders/by-hand/sketch": {"post": ({"order": ORDER}, "member")},
    "api/orders/<int:order_id>": {"get": (None, "member")},
    "api/orders/<int:order_id>/change": {"post": ({"order": ORDER, "revision": 0}, "member")},
    "api/orders/<int:order_id>/cancel": {"post": ({"reason": "why"}, "member")},
    "api/orders/<int:order_id>/hold": {"post": ({"reason": "wait"}, "member")},
    "api/orders/<int:order_id>/release": {"post": ({}, "member")},
    "api/orders/<int:order_id>/plan": {"get": (None, "member")},
    "api/plans/wave": {"get": (None, "member"), "post": ({}, "member")},
    "api/plans/wave/stop": {"post": ({}, "member")},
    "api/orders/<int:order_id>/plan/overrides": {
        "post": ({"forbidden": [], "may_lie_down": [], "note": "x"}, "member")
    },
    "api/orders/<int:order_id>/plan/decisions": {"post": ({"note": "x"}, "member")},
    "api/orders/<int:order_id>/plan/advice": {"get": (None, "member")},
    "api/orders/<int:order_id>/plan/spare": {"get": (None, "member")},
    "api/orders/<int:order_id>/plan/room": {"get": (None, "member")},
    "api/orders/<int:order_id>/plan/card.pdf": {"get": (None, "member")},
    "api/orders/<int:order_id>/plan/container": {"post": ({"container": "C-14"}, "member")},
    "api/ready-parcels": {
        "get": (None, "member"),
        "post": ({"product_id": 0, "units": 1, "count": 1, "place": "N1", "request_key": KEY}, "member"),
    },
    "api/ready-parcels/<int:ready_id>/unpack": {"post": ({"reason": "why"}, "member")},
    "api/arrivals": {"get": (None, "member")},
    "api/arrivals/ask-carriers": {"post": ({}, "member")},
    "api/arrivals/import": {"post": ({"name": "f", "content": "eA=="}, "member")},
    "api/arrivals/import/preview": {"post": ({"name": "f", "content": "eA=="}, "member")},
    "api/arrivals/carriers": {"get": (None, "member")},
    "api/arrivals/recipes": {"get": (None, "member")},
    "api/arrivals/<int:arrival_id>": {"get": (None, "member")},
    "api/arrivals/<int:arrival_id>/answer": {"put": ({"revision": 0, "outcome": "whole"}, "member")},
    "api/arrivals/<int:arrival_id>/photos": {"post": ({"photo": PHOTO}, "member")},
    "api/arrival-photos/<int:photo_id>": {"get": (None, "member"), "delete": (None, "member")},
    "api/learned": {"get": (None, "member")},
    "api/learned/effects": {"post": ({"kind": "weight", "subject": "x"}, "member")},
    "api/learned/taken": {
        "get": (None, "member"),
        "post": ({"request_key": KEY, "kind": "weight", "subject": "x", "after": {}}, "owner"),
    },
    "api/learned/taken/<int:value_id>/undo": {"post": ({}, "owner")},
    "api/claims": {"get": (None, "member")},
    "api/claims/<int:claim_id>/claim.pdf": {"get": (None, "member")},
    "api/claims/<int:claim_id>": {"put": ({"revision": 0, "state": "made", "amount": "1"}, "owner")},
    "api/recipes/<int:recipe_id>/arrivals": {"get": (None, "member")},
    "api/recipes/<int:recipe_id>/suggestions": {
        "get": (None, "member"),
        "post": ({"cause": "corner", "code": "gap", "base_version": 1}, "owner"),
    },
    "api/version-trials": {
        "get": (None, "member"),
        "post": (
            {
                "request_key": KEY,
                "recipe_id": 0,
                "versions": [1, 2],
                "kind": "orders",
                "question": "which",
                "rate": "0.08",
                "hoped": "0.02",
            },
            "owner",
        ),
    },
    "api/version-trials/needed": {"get": (None, "member")},
    "api/version-trials/<int:trial_id>": {"get": (None, "member")},
    "api/version-trials/<int:trial_id>/end": {"post": ({}, "owner")},
    "api/parcels": {"get": (None, "member")},
    "api/practice": {"get": (None, "member"), "post": ({"order_id": 0}, "member")},
    "api/practice/<int:run_id>": {"get": (None, "member"), "delete": (None, "member")},
    "api/practice/<int:run_id>/report": {"post": ({"step": 0, "take": 0}, "member")},
    "api/practice/<int:run_id>/weigh": {"post": ({}, "member")},
    "api/practice/<int:run_id>/end": {"post": ({}, "member")},
    "api/parcels/begin": {"post": ({"order_id": 0}, "member")},
    "api/parcels/<int:parcel_id>": {"get": (None, "member")},
    "api/parcels/<int:parcel_id>/progress": {"post": ({"step": 0, "ticked": {}}, "member")},
    "api/parcels/<int:parcel_id>/scale": {"post": ({}, "member")},
    "api/parcels/<int:parcel_id>/outer": {"put": ({"length": "1", "width": "1", "height": "1"}, "member")},
    "api/parcels/<int:parcel_id>/weigh": {"post": ({"typed": "1 kg"}, "member")},
    "api/parcels/<int:parcel_id>/settle": {"post": ({"words": "fine"}, "member")},
    "api/parcels/<int:parcel_id>/label": {"post": ({"service": "LARK-TWO"}, "member")},
    "api/parcels/<int:parcel_id>/label/void": {"post": ({}, "member")},
    "api/parcels/<int:parcel_id>/label/record": {"post": ({"answer": "not_sold", "words": "why"}, "owner")},
    "api/parcels/<int:parcel_id>/track": {"post": ({}, "member")},
    "api/parcels/<int:parcel_id>/close": {"post": ({"request_key": KEY}, "member")},
    "api/parcels/<int:parcel_id>/reopen": {"post": ({"words": "why"}, "owner")},
    "api/parcels/<int:parcel_id>/hold": {"post": ({"words": "why"}, "member")},
    "api/parcels/<int:parcel_id>/label.pdf": {"get": (None, "member")},
    "api/parcels/<int:parcel_id>/slip.pdf": {"get": (None, "member")},
    "api/channel-files": {"get": (None, "member")},
    "api/channel-files/<int:channel_id>": {"delete": (None, "owner")},
    "api/goods-names": {"get": (None, "member")},
    "api/goods-names/<int:name_id>": {"delete": (None, "owner")},
    "api/orders/changes": {"get": (None, "member")},
    "api/orders/changes/<int:change_id>/effect": {"get": (None, "member")},
    "api/orders/changes/<int:change_id>/apply": {"post": ({}, "member")},
    "api/orders/changes/<int:change_id>/ignore": {"post": ({}, "member")},
    "api/orders/joins": {"get": (None, "member"), "post": ({"order_ids": [1, 2]}, "member")},
    "api/orders/joins/effect": {"post": ({"order_ids": [1, 2]}, "member")},
    "api/orders/<int:order_id>/part": {"post": ({}, "member")},
    "api/channel-links": {"get": (None, "member"), "post": ({"name": "Far Stalls"}, "owner")},
    "api/channel-links/<int:link_id>/off": {"post": ({}, "owner")},
    "api/channel-links/<int:link_id>/ask": {"post": ({}, "member")},
    "api/incoming/orders": {"post": ({"request_key": KEY, "channel": "x", "orders": []}, "member")},
    "api/tracking": {"get": (None, "member")},
    "api/tokens": {"get": (None, "owner"), "post": ({"name": "till", "scopes": ["orders_in"]}, "owner")},
    "api/tokens/<int:token_id>/revoke": {"post": ({}, "owner")},
    "api/standins/channel/happens": {"post": ({"what": "order"}, "owner")},
    "api/standins": {"get": (None, "member")},
    "api/standins/<str:device>": {"put": ({"mode": "well"}, "owner")},
}
#: What a token needs where reading everything is not enough, or is not needed.
SCOPED = {("api/incoming/orders", "post"): "orders_in", ("api/tracking", "get"): "tracking_out"}
#: Doors no token opens.
PEOPLE_ONLY = {
    "api/session",
    "api/session/password",
    "api/session/places",
    "api/session/places/<int:place_id>",
    "api/members",
    "api/members/<int:member_id>",
    "api/members/<int:member_id>/one-time-password",
    "api/sample",
    "api/tokens",
    "api/tokens/<int:token_id>/revoke",
}
#: The only doors for strangers.
OPEN = {
    "api/session/sign-in": {"post"},
    "api/health": {"get"},
    "api/begin": {"get"},
    "api/calendar/<uuid:key>.ics": {"get"},
    "api/begin/workshop": {"post"},
    "api/begin/sample": {"post"},
    "api/arrived/<slug:code>": {"get", "post"},
}


def routes_there_are(patterns: list[URLPattern | URLResolver], before: str = "") -> dict[str, set[str]]:
    found: dict[str, set[str]] = {}
    for pattern in patterns:
        path = before + str(pattern.pattern)
        if isinstance(pattern, URLResolver):
            found.update(routes_there_are(pattern.url_patterns, path))
        elif path.startswith("api/"):
            view = getattr(pattern.callback, "view_class")  # noqa: B009 - Django puts it there
            allowed = [m for m in view.http_method_names if m != "options"]
            found[path] = {m for m in ("get", "post", "put", "patch", "delete") if hasattr(view, m) and m in allowed}
    return found


class EveryRoute(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.parcel = self.labelled("1160")
        self.recipe_id = self.ask("get", "recipes")["results"][0]["id"]
        photographed = {**TRIAL, "request_key": str(uuid4()), "photo": PHOTO}
        self.supplier = self.ask("post", "suppliers", {"name": "Marlpit Board", "lead_days": 3}, status=201)
        bought = {
            "supplier_id": self.supplier["id"],
            "lines": [{"supply_id": self.supply("C-14").pk, "quantity": "5", "price": "1"}],
            "delivery": "0",
            "expected_on": "2099-01-01",
            "request_key": str(uuid4()),
        }
        self.purchase = self.ask("post", "purchases", bought, status=201)
        self.counting = self.ask("post", "counts", {"shelf": "A"})
        self.trial = self.ask("post", f"recipes/{self.recipe_id}/trials", photographed, status=201)
        self.practice = self.ask("post", "practice", {"order_id": self.order("1163").pk}, status=201)["id"]
        sent = self.sent("1164")
        self.arrival = Arrival.objects.of(self.workshop).get(parcel_id=sent["id"])
        self.ask("put", f"arrivals/{self.arrival.pk}/answer", {"revision": 0, "outcome": "broken"})
        self.claim = Claim.objects.of(self.workshop).get()
        self.photo = ArrivalPhoto.objects.of(self.workshop).create(
            workshop=self.workshop, arrival=self.arrival, content=b64decode(picture()), at=timezone.now()
        )

    def path(self, route: str) -> str:
        ids = {
            "<int:supply_id>": self.supply("C-14").pk,
            "<int:recipe_id>": self.recipe_id,
            "<int:number>": 1,
            "<int:before>": 1,
            "<int:after>": 1,
            "<slug:policy>": "plant_based",
            "<int:tariff_id>": TariffVersion.objects.of(self.workshop).get().pk,
            "<int:product_id>": Product.objects.of(self.workshop).get(sku="PRE-BLK").pk,
            "<int:trial_id>": self.trial["id"],
            "<int:ready_id>": 1,
            "<int:order_id>": self.order("1163").pk,
            "<int:parcel_id>": self.parcel["id"],
            "<str:device>": "scale",
            "<str:letter>": "A",
            "<int:place_id>": 1,
            "<int:member_id>": self.packer.pk,
            "<int:channel_id>": 1,
            "<int:name_id>": 1,
            "<int:change_id>": 1,
            "<int:link_id>": 1,
            "<int:token_id>": 1,
            "<int:send_off_id>": 1,
            "<int:job_id>": 1,
            "<int:supplier_id>": self.supplier["id"],
            "<int:purchase_id>": self.purchase["id"],
            "<int:session_id>": self.counting["id"],
            "<int:report_id>": 1,
            "<str:month>": "2026-01",
            "<int:fee_id>": 1,
            "<int:policy_id>": 1,
            "<int:what_if_id>": 1,
            "<int:lot_id>": 1,
            "<int:arrival_id>": self.arrival.pk,
            "<int:photo_id>": self.photo.pk,
            "<int:claim_id>": self.claim.pk,
            "<int:value_id>": 1,
            "<int:run_id>": self.practice,
        }
        for name, value in ids.items():
            route = route.replace(name, str(value))
        return route.removeprefix("api/")

    def each(self) -> Iterator[tuple[str, str, Any, str]]:
        for route, methods in ROUTES.items():
            for method, (body, who) in methods.items():
                yield route, method, body, who

    def test_the_table_names_every_route_there_is(self) -> None:
        there = routes_there_are(get_resolver().url_patterns)
        named = {route: set(methods) for route, methods in ROUTES.items()} | OPEN
        self.assertEqual(there, named)

    def test_a_stranger_is_asked_to_sign_in_everywhere(self) -> None:
        self.client.logout()
        for route, method, body, _ in self.each():
            with self.subTest(f"{method} {route}"):
                self.assertEqual(self.ask(method, self.path(route), body, status=401)["code"], "not_signed_in")

    def test_another_workshops_owner_finds_nothing(self) -> None:
        self.as_(make_member(make_workshop("elsewhere"), "rival", "owner"))
        for route, method, body, _ in self.each():
            with self.subTest(f"{method} {route}"):
                if "<int:" in route:
                    self.ask(method, self.path(route), body, status=404)
                elif route == "api/parcels/begin":
                    self.ask(method, self.path(route), {"order_id": self.order("1163").pk}, status=404)
                elif route == "api/bench/together":
                    self.ask("get", f"{self.path(route)}?parcels={self.parcel['id']}", status=404)
                elif route == "api/bench/together/done":
                    self.ask(method, self.path(route), {"parcel_ids": [self.parcel["id"]]}, status=404)
                elif route == "api/day/begin":
                    self.ask(method, self.path(route), {"order_ids": [self.order("1163").pk]}, status=404)
                elif route == "api/day/missing":
                    wanted = {"order_id": self.order("1163").pk, "what": "Jar"}
                    self.ask(method, self.path(route), wanted, status=404)
                elif route.startswith("api/day/gather"):
                    self.ask("get", f"{self.path(route)}?parcels={self.order('1163').pk}-1", status=404)
                elif route == "api/version-trials/needed":
                    self.ask("get", f"{self.path(route)}?rate=0.08&hoped=0.02")
                elif route == "api/send-off/sheet.pdf":
                    self.ask("get", f"{self.path(route)}?id=1", status=404)
                elif method == "get" and route not in ("api/schema", "api/session", "api/standins", "api/members"):
                    answer = self.ask("get", self.path(route) + "?q=1163")
                    self.assertFalse(answer.get("results") or answer.get("count") or answer.get("orders"), answer)

    def test_a_token_opens_what_its_scope_says_and_nothing_else(self) -> None:
        self.client.logout()
        made = {scope: make_token(by=self.owner, name=scope, scopes=(scope,))[1] for scope in SCOPES}
        with mock.patch.object(TokenThrottle, "allow_request", return_value=True):
            for route, method, body, _ in self.each():
                for scope, text in made.items():
                    opens = SCOPED.get((route, method)) == scope or (
                        method == "get" and scope == "read_all" and route not in PEOPLE_ONLY
                    )
                    with self.subTest(f"{method} {route} with {scope}"):
                        answer = getattr(self.client, method)(
                            f"/api/{self.path(route)}",
                            data=body,
                            content_type="application/json",
                            headers={"Authorization": f"Bearer {text}"},
                        )
                        self.assertEqual(answer.status_code != 403, opens, answer.content[:300])

    def test_a_packer_is_refused_where_the_owner_is_needed_and_only_there(self) -> None:
        self.as_(self.packer)
        for route, method, body, who in self.each():
            if route == "api/session" and method == "delete":
                continue
            with self.subTest(f"{method} {route}"):
                call = getattr(self.client, method)
                answer = (
                    call(f"/api/{self.path(route)}", data=body, content_type="application/json")
                    if body is not None
                    else call(f"/api/{self.path(route)}")
                )
                self.assertEqual(answer.status_code == 403, who == "owner", answer.content[:300])
                self.assertLess(answer.status_code, 500)
