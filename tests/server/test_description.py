"""The OpenAPI description is true: answers fit it, the committed file is current, migrations are complete."""

import json
from io import StringIO
from typing import Any, ClassVar

import jsonschema
from django.core.management import call_command
from drf_spectacular.generators import SchemaGenerator

from server.config.env import ROOT
from tests.server.base import DemoCase

READS = (
    "session",
    "rail",
    "find?q=11",
    "supplies",
    "products",
    "recipes",
    "orders",
    "orders?state=held",
    "parcels",
    "parcels?state=closed",
    "standins",
)


class Description(DemoCase):
    schema: ClassVar[Any]

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        cls.schema = SchemaGenerator().get_schema(request=None, public=True)  # type: ignore[no-untyped-call]

    def fits(self, path: str, template: str) -> None:
        answer = self.ask("get", path)
        content = self.schema["paths"][f"/api/{template}"]["get"]["responses"]["200"]["content"]["application/json"][
            "schema"
        ]
        jsonschema.validate(answer, {**content, "components": self.schema["components"]})

    def test_every_answer_fits_its_description(self) -> None:
        parcel = self.closed("1160")
        recipe = self.ask("get", "recipes")["results"][0]["id"]
        for path in READS:
            with self.subTest(path):
                self.fits(path, path.split("?")[0])
        for path, template in (
            (f"supplies/{self.supply('C-08').pk}", "supplies/{supply_id}"),
            (f"supplies/{self.supply('C-08').pk}/entries", "supplies/{supply_id}/entries"),
            (f"recipes/{recipe}", "recipes/{recipe_id}"),
            (f"recipes/{recipe}/versions", "recipes/{recipe_id}/versions"),
            (f"orders/{self.order('1163').pk}", "orders/{order_id}"),
            (f"orders/{self.order('1163').pk}/plan", "orders/{order_id}/plan"),
            (f"orders/{self.order('1178').pk}/plan", "orders/{order_id}/plan"),
            (f"parcels/{parcel['id']}", "parcels/{parcel_id}"),
        ):
            with self.subTest(template):
                self.fits(path, template)

    def test_a_wrong_answer_would_not_fit(self) -> None:
        content = self.schema["paths"]["/api/rail"]["get"]["responses"]["200"]["content"]["application/json"]["schema"]
        with self.assertRaises(jsonschema.ValidationError):
            jsonschema.validate({"orders": "many"}, {**content, "components": self.schema["components"]})

    def test_the_committed_description_is_the_one_the_code_gives(self) -> None:
        committed = json.loads((ROOT / "server" / "api" / "openapi.json").read_text())
        self.assertEqual(json.loads(json.dumps(self.schema)), committed, "run ./calm api")

    def test_no_migration_is_missing(self) -> None:
        call_command("makemigrations", check=True, dry_run=True, stdout=StringIO())
