"""Setting up a workshop of one's own, with its owner."""

import re
from dataclasses import dataclass
from decimal import Decimal

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, connection, transaction

from server.api.problems import Refused
from server.config.env import ENV
from server.workshops.models import Member, Workshop

__all__ = ["NewWorkshop", "may_set_up", "set_up"]

#: Two people who set up at the same moment must not both be the first.
_LOCK = "lock table workshops_workshop in share row exclusive mode"


@dataclass(frozen=True, slots=True, kw_only=True)
class NewWorkshop:
    """What a workshop begins with."""

    name: str
    address: tuple[str, ...]
    postcode: str
    country: str
    currency: str
    money_digits: int
    unit_system: str
    time_zone: str
    ship_days: tuple[int, ...]
    wage_per_hour: Decimal


def may_set_up() -> bool:
    """Return whether a stranger may set up a workshop: the first of their own, or any where the server says so."""
    return ENV.open_house or not Workshop.objects.filter(sample=False).exists()


@transaction.atomic
def set_up(*, new: NewWorkshop, username: str, name: str, password: str) -> Member:
    """Make a workshop and its owner. Raises Refused: set_up_already, name_taken, weak_password."""
    with connection.cursor() as cursor:
        cursor.execute(_LOCK)
    if not may_set_up():
        raise Refused("This machine has a workshop. Its owner adds you under Settings, People.", code="set_up_already")
    user = User(username=username, first_name=name)
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Refused(" ".join(error.messages), code="weak_password", status=422, field="password") from None
    if User.objects.filter(username__iexact=username).exists():
        raise Refused(
            f"Somebody signs in as {username} already. Choose another name.",
            code="name_taken",
            status=422,
            field="username",
        )
    user.set_password(password)
    workshop = Workshop(
        code=_code(new.name),
        name=new.name,
        address=list(new.address),
        postcode=new.postcode,
        country=new.country,
        currency=new.currency,
        money_digits=new.money_digits,
        unit_system=new.unit_system,
        time_zone=new.time_zone,
        ship_days=sorted(set(new.ship_days)),
        wage_per_hour=new.wage_per_hour,
    )
    try:
        workshop.save()
        user.save()
    except IntegrityError:
        raise Refused("Somebody did the same just now. Try again.", code="name_taken") from None
    return Member.objects.create(user=user, workshop=workshop, role=Member.Role.OWNER)


def _code(name: str) -> str:
    """Return a code out of the name that no workshop has: "hill-pottery", "hill-pottery-2"."""
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:32] or "workshop"
    taken = set(Workshop.objects.filter(code__startswith=plain).values_list("code", flat=True))
    return next(code for n in range(1, 10_000) if (code := plain if n == 1 else f"{plain}-{n}") not in taken)
