"""Products, recipes and recipe versions. A version's document is the open recipe file, kept as it was taken in."""

from django.db import models
from django.db.models import Q

from server.workshops.models import Member, WorkshopOwned

__all__ = ["Product", "Recipe", "RecipeVersion"]


class Recipe(WorkshopOwned):
    """How a product or a family of products is packed; its versions hold the how."""

    code = models.CharField(max_length=40)
    name = models.CharField(max_length=80)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["name", "id"]
        constraints = [models.UniqueConstraint(fields=["workshop", "code"], name="recipe_code_once")]
        indexes = [models.Index(fields=["workshop", "name"])]

    def __str__(self) -> str:
        return self.name


class RecipeVersion(WorkshopOwned):
    """One version; the highest number is in force. Never changed once made."""

    recipe = models.ForeignKey(Recipe, on_delete=models.PROTECT, related_name="versions")
    number = models.PositiveIntegerField()
    document = models.JSONField(help_text="docs/formats/recipe.md")
    reason = models.CharField(max_length=200)
    author = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="+")
    author_name = models.CharField(max_length=80)
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["recipe", "number"], name="recipe_version_once")]

    def __str__(self) -> str:
        return f"{self.recipe.name}, version {self.number}"


class Product(WorkshopOwned):
    """One thing that is sold, by its own sku."""

    sku = models.CharField(max_length=40)
    name = models.CharField(max_length=80)
    recipe = models.ForeignKey(Recipe, null=True, on_delete=models.SET_NULL, related_name="products")
    shelf = models.CharField(max_length=8, blank=True)
    length_um = models.PositiveIntegerField(null=True)
    width_um = models.PositiveIntegerField(null=True)
    height_um = models.PositiveIntegerField(null=True)
    weight_mg = models.PositiveIntegerField(null=True)
    weight_spread_mg = models.PositiveIntegerField(default=0)
    goods_cost = models.DecimalField(max_digits=12, decimal_places=4, default=0)
    orientation = models.CharField(max_length=8, default="upright")
    fragility = models.CharField(max_length=8, default="sturdy")
    load_on_top_mg = models.PositiveIntegerField(null=True)
    food = models.BooleanField(default=False)
    scented = models.BooleanField(default=False)
    frozen = models.BooleanField(default=False)
    live = models.BooleanField(default=False)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "sku"], name="product_sku_once"),
            models.CheckConstraint(
                condition=Q(fragility__in=["sturdy", "delicate", "fragile"]), name="product_fragility_known"
            ),
            models.CheckConstraint(
                condition=Q(orientation__in=["any", "upright", "on_edge", "flat"]), name="product_orientation_known"
            ),
        ]
        indexes = [models.Index(fields=["workshop", "name"])]

    def __str__(self) -> str:
        return f"{self.sku} {self.name}"
