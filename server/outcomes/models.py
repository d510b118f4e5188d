"""Parcels that were sent and how they arrived, photos, claims, trials of versions, values that were learned."""

from decimal import Decimal
from typing import get_args

from django.db import models
from django.db.models import Q

from core.outcomes.model import OUTCOMES, PLACES, HarmKind
from server.bench.models import Parcel
from server.recipes.models import Recipe, RecipeVersion
from server.workshops.models import WorkshopOwned

__all__ = [
    "Arrival",
    "ArrivalGoods",
    "ArrivalHarm",
    "ArrivalPhoto",
    "Claim",
    "LearnedValue",
    "TrialArm",
    "VersionTrial",
]


class Arrival(WorkshopOwned):
    """A parcel that has left, and what is known of how it arrived."""

    class Source(models.TextChoices):
        NONE = ""  # nobody said anything yet
        US = "us"
        BUYER = "buyer"  # by the page of the slip
        FILE = "file"
        ASSUMED = "assumed"  # nobody complained within the days

    class GaveBack(models.TextChoices):
        NOTHING = ""
        REFUND = "refund"
        PART = "part_refund"
        REPLACEMENT = "replacement"

    parcel = models.OneToOneField(Parcel, on_delete=models.CASCADE, related_name="arrival")
    sent_on = models.DateField()
    promised_on = models.DateField()
    delivered_on = models.DateField(null=True)
    whole_by = models.DateField(null=True, help_text="From this day on it counts as whole when nobody complained")
    outcome = models.CharField(max_length=8, default="unknown")
    source = models.CharField(max_length=8, choices=Source.choices, blank=True)
    note = models.CharField(max_length=500, blank=True)
    message = models.TextField(blank=True, help_text="The buyer's own words")
    gave_back = models.CharField(max_length=12, choices=GaveBack.choices, blank=True)
    gave_amount = models.DecimalField(max_digits=12, decimal_places=2, default=Decimal(0))
    answered_at = models.DateTimeField(null=True)
    answered_by = models.CharField(max_length=80, blank=True)
    revision = models.PositiveIntegerField(default=0, help_text="Counts its changes: a second person's is told")
    # As it was sent, from its plan and label; lists and rates read these, not the plan.
    container = models.CharField(max_length=30, help_text="Code of the outer")
    carrier = models.CharField(max_length=30)
    service = models.CharField(max_length=30)
    service_name = models.CharField(max_length=80)
    zone = models.CharField(max_length=30)
    outer_um = models.JSONField(help_text="Length, width, height as planned")
    expected_mg = models.PositiveBigIntegerField(default=0)
    measured_mg = models.PositiveBigIntegerField(null=True)
    unit_mg = models.PositiveIntegerField(null=True, help_text="A unit as planned, where all goods are of one product")
    units = models.PositiveSmallIntegerField(default=0, help_text="Of all goods")
    at_risk = models.DecimalField(max_digits=12, decimal_places=2, help_text="Goods at cost, postage, materials")
    cover = models.DecimalField(max_digits=12, decimal_places=2, default=Decimal(0))
    covered = models.BooleanField(default=True, help_text="The carrier covers such goods")
    claim_days = models.PositiveSmallIntegerField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-sent_on", "-id"]
        constraints = [
            models.CheckConstraint(condition=Q(outcome__in=OUTCOMES), name="arrival_outcome_known"),
            models.CheckConstraint(condition=~Q(source="") | Q(outcome="unknown"), name="arrival_told_by_somebody"),
            models.CheckConstraint(condition=Q(gave_amount__gte=0), name="arrival_gave_nothing_negative"),
        ]
        indexes = [
            models.Index(fields=["workshop", "outcome", "-sent_on"], name="arrivals_by_outcome"),
            models.Index(fields=["workshop", "whole_by"], condition=Q(outcome="unknown"), name="arrivals_to_ask_about"),
            models.Index(fields=["workshop", "-answered_at"], name="arrivals_told"),
            models.Index(
                fields=["workshop", "-answered_at", "-id"],
                condition=~Q(source__in=["", "assumed"]),
                name="arrivals_told_by_people",
            ),
            models.Index(fields=["workshop", "-sent_on"], name="arrivals_sent"),
        ]

    def __str__(self) -> str:
        return f"{self.parcel_id}: {self.outcome}"


class ArrivalGoods(WorkshopOwned):
    """Goods of a parcel and how they were packed."""

    arrival = models.ForeignKey(Arrival, on_delete=models.CASCADE, related_name="goods")
    sku = models.CharField(max_length=40)
    name = models.CharField(max_length=80)
    units = models.PositiveSmallIntegerField()
    version = models.ForeignKey(RecipeVersion, null=True, on_delete=models.PROTECT, related_name="+")
    band_first = models.PositiveSmallIntegerField(default=0)
    band_last = models.PositiveSmallIntegerField(default=0)
    unit_value = models.DecimalField(
        max_digits=12, decimal_places=2, default=Decimal(0), help_text="What the buyer paid for one; else its cost"
    )
    hurt = models.BooleanField(default=False, help_text="Broken or spoiled, or nobody said which goods were")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["arrival", "sku"], name="arrival_goods_once")]
        indexes = [models.Index(fields=["version", "hurt"], name="arrivals_of_version")]

    def __str__(self) -> str:
        return f"{self.units} x {self.sku}"


class ArrivalHarm(WorkshopOwned):
    """Something that was hurt: what, where, how many."""

    arrival = models.ForeignKey(Arrival, on_delete=models.CASCADE, related_name="harms")
    kind = models.CharField(max_length=8)
    place = models.CharField(max_length=16, blank=True, help_text="core.outcomes.model.Place; empty: nobody said")
    spot = models.CharField(max_length=40, blank=True, help_text="Which edge or corner")
    sku = models.CharField(max_length=40, blank=True, help_text="Empty: nobody said")
    units = models.PositiveSmallIntegerField(default=1)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=Q(kind__in=get_args(HarmKind)), name="harm_kind_known"),
            models.CheckConstraint(condition=Q(place__in=("", *PLACES)), name="harm_place_known"),
            models.CheckConstraint(condition=~Q(kind="spoiled") | Q(place=""), name="spoiled_has_no_place"),
        ]

    def __str__(self) -> str:
        return f"{self.kind} at {self.place or 'an unknown place'}"


class ArrivalPhoto(WorkshopOwned):
    """A photo of what arrived, made again by us: nothing but the picture is kept of it."""

    arrival = models.ForeignKey(Arrival, on_delete=models.CASCADE, related_name="photos")
    content = models.BinaryField(help_text="JPEG")
    by_buyer = models.BooleanField(default=False)
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["id"]

    def __str__(self) -> str:
        return f"photo of {self.arrival_id}"


class Claim(WorkshopOwned):
    """What was asked of a carrier for a parcel, and what it paid."""

    class State(models.TextChoices):
        OPEN = "open"  # to be made
        MADE = "made"
        PAID = "paid"
        REFUSED = "refused"
        DROPPED = "dropped"  # not worth it, or too late

    arrival = models.OneToOneField(Arrival, on_delete=models.CASCADE, related_name="claim")
    state = models.CharField(max_length=8, choices=State.choices, default=State.OPEN)
    amount = models.DecimalField(max_digits=12, decimal_places=2, help_text="Asked for")
    until = models.DateField(null=True)
    made_on = models.DateField(null=True)
    paid = models.DecimalField(max_digits=12, decimal_places=2, null=True)
    settled_on = models.DateField(null=True)
    reference = models.CharField(max_length=60, blank=True, help_text="The carrier's own number for it")
    note = models.CharField(max_length=400, blank=True)
    by = models.CharField(max_length=80, blank=True)
    revision = models.PositiveIntegerField(default=0)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["until", "id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(state__in=["open", "made", "paid", "refused", "dropped"]), name="claim_state_known"
            ),
            models.CheckConstraint(condition=~Q(state="paid") | Q(paid__gte=0), name="claim_paid_has_amount"),
        ]
        indexes = [models.Index(fields=["workshop", "state", "until"], name="claims_by_state")]

    def __str__(self) -> str:
        return f"claim for {self.arrival_id}: {self.state}"


class VersionTrial(WorkshopOwned):
    """Two or more versions of a recipe compared, over real orders or at the table."""

    class Kind(models.TextChoices):
        ORDERS = "orders"
        SHAKE = "shake"
        FLIP = "flip"
        DROP = "drop"
        THROW = "throw"
        POSTED = "posted"

    recipe = models.ForeignKey(Recipe, on_delete=models.PROTECT, related_name="version_trials")
    kind = models.CharField(max_length=6, choices=Kind.choices)
    question = models.CharField(max_length=200, help_text="What it is to show")
    rate = models.DecimalField(max_digits=5, decimal_places=4, help_text="Of the version in use, as expected")
    hoped = models.DecimalField(max_digits=5, decimal_places=4)
    each = models.PositiveIntegerField(help_text="Of each version must be known; fixed when it began")
    began_at = models.DateTimeField()
    began_by = models.CharField(max_length=80)
    ended_at = models.DateTimeField(null=True)
    ended_by = models.CharField(max_length=80, blank=True)
    verdict = models.JSONField(null=True, help_text="The one look: verdict and numbers when all were known")
    taken = models.ForeignKey(RecipeVersion, null=True, on_delete=models.PROTECT, related_name="+")
    request_key = models.UUIDField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-began_at", "-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["recipe"], condition=Q(ended_at=None, kind="orders"), name="one_running_trial_a_recipe"
            ),
            models.UniqueConstraint(fields=["workshop", "request_key"], name="version_trial_once"),
            models.CheckConstraint(
                condition=Q(kind__in=["orders", "shake", "flip", "drop", "throw", "posted"]),
                name="version_trial_kind_known",
            ),
        ]
        indexes = [models.Index(fields=["workshop", "ended_at"], name="version_trials_running")]

    def __str__(self) -> str:
        return f"trial of {self.recipe_id}: {self.question}"

    @property
    def key(self) -> str:
        """What picks are kept under."""
        return f"trial-{self.pk}"


class TrialArm(WorkshopOwned):
    """One version in a trial."""

    trial = models.ForeignKey(VersionTrial, on_delete=models.CASCADE, related_name="arms")
    version = models.ForeignKey(RecipeVersion, on_delete=models.PROTECT, related_name="+")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["version__number"]
        constraints = [models.UniqueConstraint(fields=["trial", "version"], name="trial_arm_once")]

    def __str__(self) -> str:
        return f"{self.version_id} in {self.trial_id}"


class LearnedValue(WorkshopOwned):
    """A value the bench taught and a person took, with what it was before and what spoke for it."""

    class Kind(models.TextChoices):
        MINUTES = "minutes"
        WEIGHT = "weight"
        BULGE = "bulge"
        FILL = "fill"

    kind = models.CharField(max_length=8, choices=Kind.choices)
    subject = models.CharField(max_length=40, help_text="Code of the recipe, product or fill")
    name = models.CharField(max_length=80)
    before = models.JSONField()
    after = models.JSONField()
    evidence = models.JSONField(help_text="How many, spread, since when")
    taken_at = models.DateTimeField()
    taken_by = models.CharField(max_length=80)
    undone_at = models.DateTimeField(null=True)
    undone_by = models.CharField(max_length=80, blank=True)
    request_key = models.UUIDField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-taken_at", "-id"]
        constraints = [
            models.UniqueConstraint(fields=["workshop", "request_key"], name="learned_value_once"),
            models.CheckConstraint(
                condition=Q(kind__in=["minutes", "weight", "bulge", "fill"]), name="learned_kind_known"
            ),
        ]
        indexes = [models.Index(fields=["workshop", "kind", "subject", "-taken_at"], name="learned_by_subject")]

    def __str__(self) -> str:
        return f"{self.kind} of {self.subject}"
