"""Taking things out of use: who would miss them, what takes their place, and where they are not met any more."""

import json
from datetime import timedelta

from django.utils import timezone

from server.carriers.models import TariffVersion
from server.formats.supplies import CartonFacts, facts_of
from server.recipes.models import Product, Recipe, RecipeVersion
from server.supplies.models import Supply
from tests.server.base import DemoCase, make_member, make_workshop


class Replacements(DemoCase):
    def offered(self, code: str) -> list[str]:
        uses = self.ask("get", f"supplies/{self.supply(code).pk}/uses")
        return [one["name"].split(" ")[0] for one in uses["replacements"]]

    def test_a_carriers_own_package_takes_nobodys_place(self) -> None:
        other = self.offered("C-14")[0]
        version = TariffVersion.objects.of(self.workshop).get()
        services = [one["code"] for one in version.document["services"]]
        own = {"code": other, "name": "Post box", "services": services[:1], "inner_um": [300_000, 200_000, 150_000]}
        version.document = {**version.document, "packaging": [own]}
        version.save(update_fields=["document"])
        self.assertNotIn(other, self.offered("C-14"))

    def test_a_carton_there_is_one_of_takes_nobodys_place(self) -> None:
        other = self.offered("C-14")[0]
        row = self.supply(other)
        row.facts = {**row.facts, "one_off": True}
        row.save(update_fields=["facts"])
        self.assertNotIn(other, self.offered("C-14"))

    def test_cartons_that_take_as_much_come_first_and_the_nearest_of_them(self) -> None:
        def sides(code: str) -> tuple[int, ...]:
            found = facts_of(self.supply(code).facts)
            assert isinstance(found, CartonFacts)
            return found.inner.core().sides_um

        mine = sides("C-08")
        rows = []
        for code in self.offered("C-08"):
            more = [its - own for own, its in zip(mine, sides(code), strict=True)]
            rows.append((min(more) < 0, sum(map(abs, more))))
        self.assertEqual(rows, sorted(rows))
        self.assertEqual([smaller for smaller, _ in rows][:1], [False])

    def test_only_its_own_kind_is_offered_and_never_what_is_retired(self) -> None:
        first = self.offered("C-14")[0]
        Supply.objects.of(self.workshop).filter(code=first).update(retired_at=timezone.now())
        left = self.offered("C-14")
        self.assertNotIn(first, left)
        kinds = set(Supply.objects.of(self.workshop).filter(code__in=left).values_list("kind", flat=True))
        self.assertEqual(kinds, {self.supply("C-14").kind})

    def test_another_kind_or_itself_cannot_take_its_place_and_nothing_is_half_done(self) -> None:
        row, versions = self.supply("C-14"), RecipeVersion.objects.of(self.workshop).count()
        wrap = Supply.objects.of(self.workshop).exclude(kind=row.kind).first()
        assert wrap is not None
        for wrong in (wrap.pk, row.pk, 0, 987_654_321):
            said = self.ask("post", f"supplies/{row.pk}/retire", {"replace_by": wrong}, status=422)
            self.assertIn(row.kind, said["detail"])
        row.refresh_from_db()
        self.assertIsNone(row.retired_at)
        self.assertEqual(RecipeVersion.objects.of(self.workshop).count(), versions)

    def test_the_recipes_get_a_version_that_names_the_other_once_and_says_why(self) -> None:
        row, other = self.supply("C-14"), self.supply("C-16")
        recipes = self.ask("get", f"supplies/{row.pk}/uses")["recipes"]
        self.ask("post", f"supplies/{row.pk}/retire", {"replace_by": other.pk})
        for recipe in recipes:
            version = RecipeVersion.objects.of(self.workshop).filter(recipe_id=recipe["id"]).order_by("-number")[0]
            self.assertEqual(version.reason, "C-14 is retired, C-16 takes its place")
            self.assertNotIn('"C-14"', json.dumps(version.document))
            for one in version.document["bands"]:
                self.assertEqual(len(one["outers"]), len(set(one["outers"])))

    def test_only_open_orders_would_be_planned_again(self) -> None:
        row = self.supply("C-14")

        def numbers() -> set[str]:
            return {one["name"].split(",")[0] for one in self.ask("get", f"supplies/{row.pk}/uses")["orders"]}

        before = numbers()
        gone = sorted(before)[0]
        self.to_bench(gone)
        self.assertEqual(numbers(), before - {gone})


class OffTheLists(DemoCase):
    def found(self, text: str) -> set[str]:
        return {one["title"] for one in self.ask("get", f"find?q={text}")["results"]}

    def names(self, path: str) -> set[str]:
        return {one["name"] for one in self.ask("get", path)["results"]}

    def test_a_product_is_off_the_lists_and_comes_back_with_its_orders_untouched(self) -> None:
        row = Product.objects.of(self.workshop).order_by("pk")[0]
        order = self.ask("get", f"orders?find={row.sku}")
        self.assertIn(row.name, self.found(row.sku))
        self.ask("post", f"products/{row.pk}/retire", {"retired": True})
        self.assertNotIn(row.name, self.found(row.sku))
        self.assertNotIn(row.name, self.names("products?page_size=200"))
        self.assertIn(row.name, self.names("products?retired=true"))
        self.assertEqual(self.ask("get", f"orders?find={row.sku}")["count"], order["count"])
        self.ask("post", f"products/{row.pk}/retire", {"retired": False})
        self.assertIn(row.name, self.names("products?page_size=200"))

    def test_retired_twice_it_keeps_its_first_day(self) -> None:
        row = Product.objects.of(self.workshop).order_by("pk")[0]
        day = timezone.now() - timedelta(days=9)
        Product.objects.of(self.workshop).filter(pk=row.pk).update(retired_at=day)
        self.ask("post", f"products/{row.pk}/retire", {"retired": True})
        row.refresh_from_db()
        self.assertEqual(row.retired_at, day)

    def test_a_recipe_that_packs_something_stays_and_says_what(self) -> None:
        product = Product.objects.of(self.workshop).exclude(recipe=None).order_by("pk")[0]
        assert product.recipe_id is not None
        said = self.ask("post", f"recipes/{product.recipe_id}/retire", {"retired": True}, status=409)
        self.assertEqual(said["code"], "in_use")
        self.assertIn(product.name, said["detail"])
        Product.objects.of(self.workshop).filter(recipe_id=product.recipe_id).update(retired_at=timezone.now())
        self.ask("post", f"recipes/{product.recipe_id}/retire", {"retired": True})
        name = Recipe.objects.of(self.workshop).get(pk=product.recipe_id).name
        self.assertNotIn(name, self.names("recipes?page_size=200"))
        self.assertIn(name, self.names("recipes?retired=true"))
        self.assertNotIn(name, self.found(name))

    def test_neither_a_packer_nor_another_workshop_retires_anything(self) -> None:
        product = Product.objects.of(self.workshop).order_by("pk")[0]
        recipe = Recipe.objects.of(self.workshop).order_by("pk")[0]
        supply = self.supply("C-14")
        paths = (f"products/{product.pk}/retire", f"recipes/{recipe.pk}/retire", f"supplies/{supply.pk}/retire")
        stranger = make_member(make_workshop("far-shop"), "tamsin", "owner")
        for member, status in ((self.packer, 403), (stranger, 404)):
            self.as_(member)
            for path in paths:
                body = {"replace_by": None} if path.startswith("supplies") else {"retired": True}
                self.ask("post", path, body, status=status)
        for row in (product, recipe, supply):
            row.refresh_from_db()
            self.assertIsNone(row.retired_at)
