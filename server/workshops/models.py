"""Workshops, members, and ``WorkshopOwned``: the base of every table of the trade.

Scoping lives here and nowhere else: ``Model.objects`` refuses every query that does not begin with
``.of(workshop)``, so forgetting it is an error, not a leak.
"""

from decimal import Decimal
from typing import Any, TypeVar

from django.contrib.auth.models import AbstractBaseUser, AnonymousUser, User
from django.db import models

__all__ = [
    "ApiToken",
    "Member",
    "ScopedManager",
    "SettingChange",
    "SignedIn",
    "UnscopedQuery",
    "Workshop",
    "WorkshopOwned",
    "lock_workshop",
]

M = TypeVar("M", bound=models.Model)


class UnscopedQuery(Exception):
    """A query of the trade was begun without naming the workshop."""


class Workshop(models.Model):
    """One maker's workshop: its own data, its own currency, its own clock."""

    code = models.SlugField(max_length=40, unique=True)
    sample = models.BooleanField(default=False, help_text="The made-up workshop to look round in; may be removed")
    name = models.CharField(max_length=80)
    currency = models.CharField(max_length=8, help_text="Shown before amounts")
    money_digits = models.PositiveSmallIntegerField(default=2)
    time_zone = models.CharField(max_length=60, default="UTC")
    unit_system = models.CharField(
        max_length=8, default="metric", choices=[("metric", "metric"), ("imperial", "imperial")]
    )
    country = models.CharField(max_length=3)
    postcode = models.CharField(max_length=12)
    address = models.JSONField(default=list, help_text="Lines of the sender's address")
    wage_per_hour = models.DecimalField(max_digits=10, decimal_places=2, default=Decimal("15"))
    scale_division_mg = models.PositiveIntegerField(default=1_000)
    support_percent = models.PositiveSmallIntegerField(default=75)
    label_supply = models.CharField(
        max_length=30, blank=True, help_text="Code of the shipping label used on each parcel"
    )

    # How services are chosen; the reason of each default stands in server/rates/choosing.py.
    services = models.JSONField(default=list, help_text="Codes of the services it uses; empty: all")
    trusted_carrier = models.CharField(max_length=30, blank=True)
    trusted_unless_saves = models.DecimalField(max_digits=10, decimal_places=2, default=Decimal("1"))
    delivers_to = models.JSONField(default=list, help_text="Where parcels may be handed over; empty: at the door only")
    arrive_within_days = models.PositiveSmallIntegerField(null=True)
    ship_days = models.JSONField(
        default=list, help_text="Weekdays parcels are handed over, Monday 0; empty: Monday to Friday"
    )
    to_homes = models.BooleanField(default=True, help_text="Parcels go to houses")
    signature_above = models.DecimalField(max_digits=12, decimal_places=2, null=True)
    cover_goods = models.BooleanField(default=False, help_text="Buy cover for what the goods are worth")
    advice_threshold = models.DecimalField(max_digits=10, decimal_places=2, default=Decimal("0.50"))
    little_more = models.DecimalField(
        max_digits=10, decimal_places=2, default=Decimal("0.50"), help_text="Extra postage that still counts as little"
    )

    risk_actions = models.JSONField(
        default=dict, help_text="What is done with a payment of a risk, by level: pack, hold, refuse; docs/rules.md"
    )

    # Judgements of the weight check and of goods that are less protected than they should be; docs/rules.md says why.
    slip_one_in = models.PositiveIntegerField(default=200, help_text="One parcel in so many has a slip")
    look_minutes = models.DecimalField(max_digits=5, decimal_places=2, default=Decimal("0.5"))
    unprotected_factor = models.DecimalField(max_digits=5, decimal_places=2, default=Decimal("3"))

    judgements = models.JSONField(
        default=dict, help_text="What it judges otherwise than core.judgements.ORDINARY, by name"
    )
    packers_see_costs = models.BooleanField(default=True)
    buyer_page_at = models.CharField(
        max_length=120,
        blank=True,
        help_text="Where buyers reach this program; empty: no page for them",
    )
    shelf_names = models.JSONField(default=dict, help_text="What stands on each shelf, by its letter")

    changes = models.PositiveBigIntegerField(
        default=0,
        help_text="Counts changes of what plans rest on (happened.py): a plan made meanwhile is made again",
    )

    calendar_key = models.UUIDField(
        null=True, unique=True, help_text="The private address of its calendar; none: there is no such address"
    )
    policies = models.JSONField(default=list, help_text="What every recipe must obey or is marked against")

    def __str__(self) -> str:
        return self.name


def lock_workshop(workshop: Workshop) -> int:
    """Lock the workshop's row until the transaction ends; return its count of changes.

    Taken first, before any other row, by everything that plans orders or moves them between states: so two people
    cannot promise the last carton twice, overwrite each other's hold, or wait for each other in a ring. The lock lets
    other rows go on referring to the workshop (no key), so that a ledger entry elsewhere need not wait.
    """
    return Workshop.objects.select_for_update(no_key=True).only("changes").get(pk=workshop.pk).changes


class Member(models.Model):
    """A person in a workshop."""

    class Role(models.TextChoices):
        OWNER = "owner"
        PACKER = "packer"

    user = models.OneToOneField(User, on_delete=models.CASCADE, related_name="member")
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="members")
    role = models.CharField(max_length=8, choices=Role.choices)
    must_change = models.BooleanField(default=False, help_text="Has a one-time password: it lets in to change it")
    one_time_until = models.DateTimeField(null=True, help_text="Until when that can be used")

    class Meta:
        constraints = [
            models.CheckConstraint(condition=models.Q(role__in=["owner", "packer"]), name="member_role_known")
        ]

    def __str__(self) -> str:
        return f"{self.user.get_username()} ({self.role})"

    @property
    def name(self) -> str:
        """What the person is called on screen."""
        return self.user.first_name or self.user.get_username()

    @classmethod
    def of_user(cls, user: AbstractBaseUser | AnonymousUser) -> "Member | None":
        """Return the membership of a signed-in user, with its workshop, in one query."""
        return cls.objects.select_related("workshop", "user").filter(user_id=user.pk).first()


class SignedIn(models.Model):
    """A place a person is signed in at: a browser on one machine."""

    session_key = models.CharField(max_length=40, unique=True)
    member = models.ForeignKey(Member, on_delete=models.CASCADE, related_name="signed_in")
    agent = models.CharField(max_length=160, blank=True, help_text="What the browser calls itself")
    began_at = models.DateTimeField()
    seen_at = models.DateTimeField()
    expires_at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["member", "-seen_at"]), models.Index(fields=["expires_at"])]

    def __str__(self) -> str:
        return f"{self.member_id} since {self.began_at}"


class ScopedManager(models.Manager[M]):
    """A manager that only answers for one workshop."""

    def of(self, workshop: Workshop | int) -> "models.QuerySet[M]":
        """Return the rows of one workshop, and no others."""
        key = workshop.pk if isinstance(workshop, Workshop) else workshop
        return super().get_queryset().filter(workshop_id=key)

    def by_key(self, **key: str) -> "models.QuerySet[M]":
        """Return the row of a secret that names it (a token's digest, a code on a slip), whosever it is.

        Asked before anybody is known: ``key`` is one unique column; what is read after it is of that row's workshop.
        """
        ((name, value),) = key.items()
        if not value or not self.model._meta.get_field(name).unique:  # type: ignore[union-attr]
            raise UnscopedQuery(f"{self.model.__name__}.{name} does not name one row.")
        return super().get_queryset().filter(**key)

    def get_queryset(self) -> Any:
        """Refuse: a query of the trade names its workshop first."""
        raise UnscopedQuery(f"Ask {self.model.__name__}.objects.of(workshop) instead.")


class WorkshopOwned(models.Model):
    """Base of every table of the trade."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="+")

    #: For Django's own machinery (relations, deletes, tests). Code of the trade uses ``objects``.
    unscoped = models.Manager()
    objects = ScopedManager()

    class Meta:
        abstract = True
        default_manager_name = "unscoped"
        base_manager_name = "unscoped"


class ApiToken(WorkshopOwned):
    """A token another program signs in with. Only its digest is kept."""

    name = models.CharField(max_length=60)
    scopes = models.JSONField(help_text="server.workshops.tokens.Scope")
    digest = models.CharField(max_length=64, unique=True)
    begins = models.CharField(max_length=12, help_text="Its first letters, to tell it by")
    member = models.ForeignKey(Member, on_delete=models.CASCADE, related_name="tokens", help_text="Who made it")
    made_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)
    revoked_at = models.DateTimeField(null=True)

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [
            models.UniqueConstraint(
                fields=["workshop", "name"], condition=models.Q(revoked_at=None), name="api_token_name_once"
            )
        ]

    def __str__(self) -> str:
        return self.name

    @classmethod
    def standing(cls, digest: str) -> "ApiToken | None":
        """Return the token of a digest, when it stands and its maker may still sign in as an owner.

        Asked before anybody is known: the digest alone names the workshop.
        """
        rows = cls.objects.by_key(digest=digest).select_related("member__user", "member__workshop")
        return rows.filter(revoked_at=None, member__user__is_active=True, member__role=Member.Role.OWNER).first()


class SettingChange(WorkshopOwned):
    """One setting that was given another value: what it was, what it is, who and when."""

    name = models.CharField(max_length=40)
    before = models.JSONField()
    after = models.JSONField()
    by = models.CharField(max_length=80)
    at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        ordering = ["-at", "-id"]
        indexes = [models.Index(fields=["workshop", "-at"])]

    def __str__(self) -> str:
        return f"{self.name}: {self.before} to {self.after}"
