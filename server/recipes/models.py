"""Products, recipes and recipe versions. A version's document is the open recipe file, kept as it was imported."""

from typing import get_args

from django.db import models
from django.db.models import Q

from core.recipes.goods import Fragility, Orientation
from server.workshops.models import Member, WorkshopOwned

__all__ = ["Product", "ProductPhoto", "Recipe", "RecipeVersion", "Trial", "VersionArrivals"]


class Recipe(WorkshopOwned):
    """How a product or a family of products is packed; its versions hold the how."""

    code = models.CharField(max_length=40)
    name = models.CharField(max_length=80)
    for_mix = models.BooleanField(default=False, help_text="The current version is for a named mix")
    retired_at = models.DateTimeField(null=True, help_text="Not used any more; its versions are kept")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["name", "id"]
        constraints = [models.UniqueConstraint(fields=["workshop", "code"], name="recipe_code_once")]
        indexes = [models.Index(fields=["workshop", "name"])]

    def __str__(self) -> str:
        return self.name


class RecipeVersion(WorkshopOwned):
    """One version; the highest number is current. Never changed once made."""

    recipe = models.ForeignKey(Recipe, on_delete=models.PROTECT, related_name="versions")
    number = models.PositiveIntegerField()
    document = models.JSONField(help_text="docs/formats/recipe.md")
    reason = models.CharField(max_length=200)
    author = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="+")
    author_name = models.CharField(max_length=80)
    at = models.DateTimeField()
    in_force = models.BooleanField(
        default=True, help_text="False: made for a trial; only orders the trial picks for it are packed by it"
    )

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["recipe", "number"], name="recipe_version_once")]

    def __str__(self) -> str:
        return f"{self.recipe.name}, version {self.number}"


class VersionArrivals(WorkshopOwned):
    """How parcels packed by a version arrived; versions of a recipe that protect alike count together in plans."""

    version = models.OneToOneField(RecipeVersion, on_delete=models.CASCADE, related_name="arrived")
    protects = models.CharField(max_length=64, help_text="Same text: core.outcomes.suggest.protects_alike")
    known = models.PositiveIntegerField(default=0)
    damaged = models.PositiveIntegerField(default=0)
    assumed = models.PositiveIntegerField(default=0, help_text="Of the known: nobody complained")
    told_known = models.PositiveIntegerField(default=0, help_text="When plans were last told of a change")
    told_damaged = models.PositiveIntegerField(default=0)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [
            models.CheckConstraint(condition=Q(damaged__lte=models.F("known")), name="no_more_damaged_than_known")
        ]

    def __str__(self) -> str:
        return f"{self.damaged} of {self.known}"


class Product(WorkshopOwned):
    """One thing that is sold, by its own sku."""

    sku = models.CharField(max_length=40)
    name = models.CharField(max_length=80)
    recipe = models.ForeignKey(Recipe, null=True, on_delete=models.SET_NULL, related_name="products")
    shelf = models.CharField(max_length=8, blank=True)
    retired_at = models.DateTimeField(null=True, help_text="Not sold any more; what was sent stays")
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
    glass = models.BooleanField(default=False)
    meltable = models.BooleanField(default=False)
    restricted = models.BooleanField(default=False)
    holds = models.JSONField(default=list, help_text="What carriers ask about: core.recipes.goods.Holds")
    delicate_place = models.CharField(max_length=60, blank=True, help_text="What the hands must mind: handle, rim")
    lowest_c = models.SmallIntegerField(null=True)
    highest_c = models.SmallIntegerField(null=True)
    longest_days = models.PositiveSmallIntegerField(null=True, help_text="Longest time in transit")
    keeps_days = models.PositiveSmallIntegerField(null=True)
    not_with = models.JSONField(default=list, help_text="Skus it may not share a parcel with")
    family = models.CharField(max_length=40, blank=True, help_text="Variants of one thing share it")
    contents = models.JSONField(default=list, help_text="A set: sku and quantity of each product in it")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "sku"], name="product_sku_once"),
            models.CheckConstraint(
                condition=Q(fragility__in=list(get_args(Fragility))), name="product_fragility_known"
            ),
            models.CheckConstraint(
                condition=Q(orientation__in=list(get_args(Orientation))), name="product_orientation_known"
            ),
        ]
        indexes = [
            models.Index(fields=["workshop", "name"]),
            models.Index(fields=["workshop", "family"], name="product_family"),
        ]

    def __str__(self) -> str:
        return f"{self.sku} {self.name}"


class ProductPhoto(WorkshopOwned):
    """How a product looks; apart from the product, so that lists do not carry pictures."""

    product = models.OneToOneField(Product, on_delete=models.CASCADE, related_name="photo")
    content = models.BinaryField()
    content_type = models.CharField(max_length=12)

    class Meta(WorkshopOwned.Meta):
        abstract = False

    def __str__(self) -> str:
        return f"photo of {self.product_id}"


class Trial(WorkshopOwned):
    """A recipe version tried out: what was done to the parcel, and whether it passed."""

    version = models.ForeignKey(RecipeVersion, on_delete=models.PROTECT, related_name="trials")
    kind = models.CharField(max_length=8)
    units = models.PositiveSmallIntegerField()
    passed = models.BooleanField()
    place = models.CharField(max_length=40, blank=True, help_text="Where it broke, or the face or corner it fell on")
    drop_mm = models.PositiveSmallIntegerField(null=True)
    note = models.CharField(max_length=400, blank=True)
    photo = models.BinaryField(null=True)
    photo_type = models.CharField(max_length=12, blank=True)
    author = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="+")
    author_name = models.CharField(max_length=80)
    at = models.DateTimeField()
    request_key = models.UUIDField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-at", "-id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(kind__in=["shake", "flip", "drop", "throw", "posted"]), name="trial_kind_known"
            ),
            models.UniqueConstraint(fields=["workshop", "request_key"], name="trial_once"),
        ]
        indexes = [models.Index(fields=["version", "passed"], name="trial_of_version")]

    def __str__(self) -> str:
        return f"{self.kind} of {self.version}"
