"""The sample workshop: the files of demo/ through the same intake as a user's, then a few days of work.

Everything here is made up. The orders are dated so that the newest came in today; some are packed through the
bench's own services, so that ledger, labels and weights are real entries.
"""

import json
from datetime import date, time, timedelta
from pathlib import Path
from uuid import NAMESPACE_URL, uuid5

from django.utils import timezone

from server.bench.labels import buy_label, offers
from server.bench.models import Parcel
from server.bench.selectors import part_of, weight_check_of
from server.bench.services import begin, close, load_of, settle_weight, weigh
from server.care.services import hear_forecast
from server.carriers.models import TariffVersion
from server.commands.arrivals import SampleArrivals
from server.commands.demo_money import load_money
from server.commands.history import load_history, load_suppliers, order_what_is_on_the_way
from server.commands.intake import dated_up_to_today, import_kind, import_orders
from server.config.env import ROOT
from server.day.models import Prepared
from server.day.services import HandOverIn, HoursIn, set_times
from server.formats.base import read_file
from server.formats.orders import read_orders
from server.formats.workshop import WorkshopFile
from server.orders.models import Order
from server.plans.models import PlanPart
from server.plans.waves import run_wave
from server.recipes.models import Recipe
from server.recipes.selectors import versions_in_force
from server.recipes.services import TrialFacts, add_trial, add_version
from server.standins.models import Behaviour
from server.workshops.clock import today
from server.workshops.models import Member, Workshop
from server.workshops.services import import_workshop, set_member

__all__ = ["DEMO", "SAMPLE_PEOPLE", "load_demo", "write_hours"]

DEMO = ROOT / "demo"
#: Who may sign in to the sample: name, role, sign-in name, password. No secret: it stands on the first page.
SAMPLE_PEOPLE = (("Maren", "owner", "maren", "salt-pig-40"), ("Oswin", "packer", "oswin", "butter-crock-12"))
_PACKED, _AT_BENCH = 7, 2


def load_demo(*, whole: bool = True) -> list[str]:
    """Load the sample workshop; what is already imported stays as it is. Returns what happened, in words.

    Not ``whole``: without the wider range of products, which most tests do not need.
    """
    workshop = import_workshop(read_file(WorkshopFile, _read("workshop.json"), what="workshop file"))
    Workshop.objects.filter(pk=workshop.pk).update(sample=True)
    owner, packer = (
        set_member(workshop=workshop, username=username, name=name, role=role, password=password)
        for name, role, username, password in SAMPLE_PEOPLE
    )
    said = [f"workshop {workshop.name}"]
    for kind, files in (
        ("supplies", [DEMO / "supplies.json"]),
        ("tariff", _not_here(workshop, sorted((DEMO / "tariffs").glob("*.json")))),
        ("recipe", sorted((DEMO / "recipes").glob("*.json"))),
        ("products", [DEMO / "products.json"]),
    ):
        said += [import_kind(workshop, kind, path.read_bytes(), by=owner.name) for path in files]
    if whole:
        said += _wider_range(workshop, owner)
    first_time = not Order.objects.of(workshop).exists()
    if whole and first_time:
        newest = max(row.placed_on for row in read_orders(_read("orders.csv"), today=date.max).rows)
        said.append(load_suppliers(workshop, owner))
        sample = SampleArrivals(workshop, owner)
        said.append(
            load_history(
                workshop, packers=(owner, packer), newest=newest, before_planning=sample.before_planning,
                heavier_mg=sample.heavier_mg,
            )
        )  # fmt: skip
        said.append(sample.arrive())
        said.append(order_what_is_on_the_way(workshop, owner))
        said.append(load_money(owner))
    read = read_orders(_read("orders.csv"), today=today(workshop))
    said.append(import_orders(workshop, dated_up_to_today(read, workshop)))
    if whole and first_time:
        more = read_orders(_read("range/orders.csv"), today=today(workshop))
        said.append(import_orders(workshop, dated_up_to_today(more, workshop)))
        said.append(_weather(workshop))
    if first_time:
        said.append(write_hours(workshop, owner))
        _prepared(workshop, packer)
        said.append(_days_of_work(workshop, owner, packer))
    return said


def _prepared(workshop: Workshop, packer: Member) -> None:
    """What the kefir and the fudge ask for was begun the evening before."""
    evening = timezone.now() - timedelta(hours=14)
    rows = Order.objects.of(workshop).filter(number__in=("1187", "1188")).select_related("plan")
    Prepared.objects.of(workshop).bulk_create(
        Prepared(workshop=workshop, order=order, what=one["what"], done_at=evening, done_by=packer.name)
        for order in rows
        for part in PlanPart.objects.of(workshop).filter(plan__order=order)
        for one in part.ahead
        if "supply" not in one
    )


def _weather(workshop: Workshop) -> str:
    """Let the simulated forecast foretell frost in the cold half of the year and heat in the warm one, and hear it."""
    mode = "heat" if today(workshop).month in range(4, 10) else "frost"
    Behaviour.objects.of(workshop).update_or_create(workshop=workshop, device="forecast", defaults={"mode": mode})
    hear_forecast(workshop)
    run_wave(workshop=workshop)
    return f"a forecast of {mode}"


def _read(name: str) -> bytes:
    return Path(DEMO / name).read_bytes()


def _not_here(workshop: Workshop, paths: list[Path]) -> list[Path]:
    """Leave out the price lists that are here: one may have been changed since, and one used is never changed."""
    known = set(TariffVersion.objects.of(workshop).values_list("carrier", "version"))
    return [path for path in paths if _named(path) not in known]


def _named(path: Path) -> tuple[str, str]:
    file = json.loads(path.read_text())
    return file["carrier"], file["tariff_version"]


def _from_next_month(path: Path, day: date) -> bytes:
    """Return a coming price list dated so that it is valid from the first of next month."""
    first = (day.replace(day=1) + timedelta(days=32)).replace(day=1)
    return json.dumps({**json.loads(path.read_text()), "valid_from": first.isoformat()}).encode()


def _wider_range(workshop: Workshop, owner: Member) -> list[str]:
    """Load more supplies, products and recipes of every craft; two changes with their reasons; what was tried."""
    folder, carriers = DEMO / "range", DEMO / "carriers"
    known = set(Recipe.objects.of(workshop).values_list("code", flat=True))
    file = json.loads((folder / "recipes.json").read_text())
    # What was changed since by a later version is not set back.
    file["recipes"] = [one for one in file["recipes"] if one["code"] not in known]
    said = [
        import_kind(workshop, "tariff", path.read_bytes(), by=owner.name)
        for path in _not_here(workshop, sorted(carriers.glob("*.json")))
    ]
    said += [
        import_kind(workshop, "tariff", _from_next_month(path, today(workshop)), by=owner.name)
        for path in _not_here(workshop, sorted((carriers / "coming").glob("*.json")))
    ]
    said += [
        import_kind(workshop, "supplies", (folder / "supplies.json").read_bytes(), by=owner.name),
        import_kind(workshop, "recipes", json.dumps(file).encode(), by=owner.name),
        import_kind(workshop, "products", (folder / "products.json").read_bytes(), by=owner.name),
    ]
    recipes = {recipe.code: recipe for recipe in Recipe.objects.of(workshop)}
    versions = versions_in_force(workshop, [recipe.pk for recipe in recipes.values()])
    for change in json.loads((folder / "changes.json").read_text()):
        recipe = recipes[change["code"]]
        if versions[recipe.pk].number == 1:
            made = add_version(
                by=owner, recipe_id=recipe.pk, base_version=1, document=change["recipe"], reason=change["reason"]
            )
            versions[recipe.pk] = made
            said.append(f"recipe {recipe.name}, version {made.number}: {made.reason}")
    for at, one in enumerate(json.loads((folder / "trials.json").read_text())):
        recipe = recipes[one.pop("code")]
        key = uuid5(NAMESPACE_URL, f"demo-trial-{at}")
        facts = TrialFacts(
            **one,
            version=versions[recipe.pk].number,
            drop_mm=760 if one["kind"] == "drop" else None,
            photo=None,
            request_key=key,
        )
        add_trial(by=owner, recipe_id=recipe.pk, facts=facts)
    return said


def write_hours(workshop: Workshop, owner: Member) -> str:
    """Write down who packs when and which hand-overs there are, of the carriers that are here."""
    times = json.loads(_read("times.json"))
    here = set(TariffVersion.objects.of(workshop).values_list("carrier", flat=True))
    hand_overs = [one for one in times["hand_overs"] if set(one["carriers"]) <= here]
    set_times(
        by=owner,
        hours=[
            HoursIn(
                who=one["who"],
                days=tuple(one["days"]),
                begins=time.fromisoformat(one["begins"]),
                ends=time.fromisoformat(one["ends"]),
            )
            for one in times["hours"]
        ],
        hand_overs=[
            HandOverIn(
                id=None,
                name=one["name"],
                kind=one["kind"],
                carriers=tuple(one["carriers"]),
                days=tuple(one["days"]),
                at=time.fromisoformat(one["at"]),
                way_minutes=one.get("way_minutes", 0),
                most_parcels=None,
                who=one.get("who", ""),
            )
            for one in hand_overs
        ],
        closures=[],
    )
    return f"hours of {len({one['who'] for one in times['hours']})} people, {len(hand_overs)} hand-overs"


def _days_of_work(workshop: Workshop, owner: Member, packer: Member) -> str:
    due = list(
        Order.objects.of(workshop).filter(state=Order.State.PLANNED).order_by("placed_on", "id")[: _PACKED + _AT_BENCH]
    )
    for order in due[:_PACKED]:
        pack(order, by=packer)
    for order in due[_PACKED:]:
        begin(by=packer, order_id=order.pk)
    return f"{len(due[:_PACKED])} orders packed, {len(due[_PACKED:])} at the bench"


def pack(order: Order, *, by: Member) -> Parcel:
    """Pack one planned order as a packer would, parcel after parcel. Returns the last."""
    parcel = pack_one(begin(by=by, order_id=order.pk), by=by)
    while parcel.state == Parcel.State.CLOSED and Parcel.objects.of(by.workshop).filter(order=order, state="packing"):
        parcel = pack_one(begin(by=by, order_id=order.pk), by=by)
    return parcel


def pack_one(parcel: Parcel, *, by: Member) -> Parcel:
    """Pack one parcel: weigh at the expected weight, the planned service, close."""
    weigh(by=by, parcel_id=parcel.pk, typed_mg=load_of(parcel).expected_mg)
    parcel.refresh_from_db()
    check = weight_check_of(parcel)
    if check is not None and not check.fine:
        settle_weight(by=by, parcel_id=parcel.pk, words="looked, all there")
    planned = part_of(parcel).candidate.quote.service
    services = [quote.service for quote in offers(by.workshop, parcel)[0]]
    buy_label(by=by, parcel_id=parcel.pk, service=planned if planned in services else services[0])
    return close(by=by, parcel_id=parcel.pk, request_key=uuid5(NAMESPACE_URL, f"demo-{parcel.pk}"))
