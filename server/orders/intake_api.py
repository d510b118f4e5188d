"""Importing a file over HTTP: what it holds, how its columns are read, what importing it would do (orders)."""

from collections import Counter
from collections.abc import Mapping
from typing import Annotated, Literal

from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.response import Response

from core.intake.columns import Guessed, Matching
from core.intake.fields import FIELDS, REPEATED
from core.intake.fields import Field as FieldName
from core.intake.values import DayOrder, DecimalMark
from core.messages import Text
from core.tariffs.model import Place
from core.tariffs.quote import tariffs_in_force
from core.tariffs.reach import PlaceCheck, check_place
from core.tariffs.zones import plain_postcode
from server.api.bodies import Body
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.uploads import uploaded_bytes
from server.api.views import MemberView
from server.carriers.selectors import core_tariffs
from server.formats.orders import key_of
from server.formats.tables import Encoding
from server.orders.intake import GroupedOrder, Intake, group
from server.orders.models import ChannelFile, GoodsName, Order
from server.orders.naming import forget_name
from server.orders.reading import Opened, matching_from_json, open_file
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["ChannelFileView", "ChannelFilesView", "FileIn", "GoodsNameView", "GoodsNamesView", "PreviewView", "opened"]

_Name = Annotated[str, Field(min_length=1, max_length=120)]
#: What importing comes to for a line: its order's, or why the line is left out.
_Verdict = Literal["new", "known", "changed", "cancelled", "void", "fault", "left_out", "total"]
_Channel = Annotated[str, Field(max_length=30)]


class MatchingIn(Body):
    """How a person says a file's columns are to be read."""

    columns: dict[FieldName, Annotated[list[_Name], Field(max_length=4)]]
    day_order: DayOrder | None = None
    decimal_mark: DecimalMark | None = None
    constants: dict[FieldName, Annotated[str, Field(max_length=60)]] = {}
    words: dict[FieldName, dict[Annotated[str, Field(max_length=120)], Annotated[str, Field(max_length=12)]]] = {}

    def value(self) -> Matching:
        """Return it as the core wants it. Raises Refused when a field that takes one column has several."""
        for name, columns in self.columns.items():
            if len(columns) > 1 and name not in REPEATED:
                raise Refused(
                    f"{name} is read from one column; given: {', '.join(columns)[:80]}.",
                    code="not_valid",
                    status=422,
                    field=f"matching.columns.{name}",
                )
        constants = {name: text.strip() for name, text in self.constants.items() if text.strip()}
        return Matching(
            columns={name: tuple(columns) for name, columns in self.columns.items() if columns},
            day_order=self.day_order,
            decimal_mark=self.decimal_mark,
            constants=constants,
            words=self.words,
        )


class FileIn(Body):
    """An orders file, its text or its bytes as base64, and how its columns are to be read when a person said so."""

    name: Annotated[str, Field(max_length=200)]
    content: Annotated[str, Field(max_length=10_000_000)] = ""
    content_base64: Annotated[str, Field(max_length=14_000_000)] = ""
    matching: MatchingIn | None = None
    channel: _Channel = ""  #: the name its orders get, and the matching is kept under
    goods: Annotated[dict[_Name, Annotated[str, Field(max_length=40)]], Field(max_length=500)] = {}

    def bytes_of(self) -> bytes:
        """Return the bytes of the file. Raises Refused when neither, both or a broken one is given."""
        if bool(self.content) == bool(self.content_base64):
            raise Refused(
                "Give the file as content (its text) or as content_base64 (its bytes).",
                code="not_valid",
                status=400,
                field="content",
            )
        return self.content.encode() if self.content else uploaded_bytes(self.name, self.content_base64)


class FaultOut(BaseModel):
    """One error of a file."""

    line: int
    column: str
    value: str
    allowed: str


class PreviewLine(BaseModel):
    """One line of the file as it was read."""

    line: int
    order: str
    buyer: str
    sku: str
    quantity: str
    verdict: _Verdict
    words: str
    label: list[str]  #: on the first line of an order: the address as it will stand on the label


class ColumnOut(BaseModel):
    """One column of the file."""

    name: str
    filled: int  #: cells that are not empty
    samples: list[str]


class FieldOut(BaseModel):
    """One field of an order and the columns it is read from."""

    name: str
    several: bool  #: may be made of several columns
    columns: list[str]
    constant: str
    by: Literal["", "name", "content", "both", "person"]  #: why the columns were taken
    read: int | None  #: so many of 100 values can be read


class QuestionOut(BaseModel):
    """What only a person can say before the file can be imported."""

    about: Literal["missing", "day_order", "decimal_mark", "word"]
    field: str
    sample: str


class MatchingOut(BaseModel):
    """How the file is read."""

    fields: list[FieldOut]
    columns: list[ColumnOut]
    day_order: DayOrder | None
    decimal_mark: DecimalMark | None
    words: dict[str, dict[str, str]]
    countries: list[str]  #: codes the price lists know
    questions: list[QuestionOut]


class UnknownOut(BaseModel):
    """Goods of the file that are none of the workshop's products."""

    said: str
    title: str
    lines: int


class AddressOut(BaseModel):
    """An address somebody should look at."""

    order: str
    buyer: str
    place: str
    reached: bool
    words: list[Text]


class ElsewhereOut(BaseModel):
    """So many of the file's new orders were imported under another channel."""

    channel: str
    orders: int


class PreviewOut(BaseModel):
    """What importing the file would do."""

    kind: Literal["own", "kept", "asked"]  #: our own columns; those of a kept channel; asked about
    channel: str
    matching: MatchingOut | None
    unknown: list[UnknownOut]
    lines: list[PreviewLine]
    more_lines: int  #: lines beyond those shown
    faults: list[FaultOut]
    new_orders: int
    known_orders: int
    changed_orders: int
    cancelled_orders: int
    void_orders: int  #: cancelled or sent elsewhere before they were ever here
    left_out_orders: int
    places: list[AddressOut]  #: addresses to look at
    elsewhere: list[ElsewhereOut]  #: new orders whose numbers and buyers came under another channel
    encoding: Encoding


class ChannelFileOut(BaseModel):
    """A channel whose files are known."""

    id: int
    name: str
    columns: list[str]
    fields: list[FieldOut]


class GoodsNameOut(BaseModel):
    """What other programs call a product."""

    id: int
    said: str
    sku: str
    name: str


_SHOWN_LINES = 2_000
_SHOWN_PLACES = 200
_SAMPLES = 3


def opened(view: MemberView, body: FileIn) -> Opened:
    """Open the file that was sent, with what the person said of it."""
    matching = body.matching.value() if body.matching else None
    return open_file(view.workshop, body.bytes_of(), matching=matching, channel=body.channel.strip(), goods=body.goods)


class PreviewView(MemberView):
    """POST /api/orders/intake/preview"""

    @operation("preview_orders")
    def post(self, body: FileIn) -> PreviewOut:
        """Read a file line by line; nothing is saved."""
        file = opened(self, body)
        return _preview(self.workshop, file, group(self.workshop, file.read), by_person=body.matching is not None)


class ChannelFilesView(MemberView):
    """GET /api/channel-files"""

    @operation("channel_files")
    def get(self) -> Page[ChannelFileOut]:
        """Channels whose files are known."""
        rows = ChannelFile.objects.of(self.workshop).order_by("name")
        return self.paged(rows, lambda page: map(_channel_out, page))


class ChannelFileView(MemberView):
    """DELETE /api/channel-files/{id}"""

    owner_only = frozenset({"DELETE"})

    @extend_schema(operation_id="forget_channel_file", request=None, responses={204: None, **PROBLEMS})
    def delete(self, request: object, channel_id: int) -> Response:
        """Forget how a channel's files are read; its next file is asked about."""
        if not ChannelFile.objects.of(self.workshop).filter(pk=channel_id).delete()[0]:
            raise Refused("There is no such channel in your workshop.", code="not_found", status=404)
        return Response(status=204)


class GoodsNamesView(MemberView):
    """GET /api/goods-names"""

    @operation("goods_names")
    def get(self) -> Page[GoodsNameOut]:
        """What other programs call the products."""
        rows = GoodsName.objects.of(self.workshop).select_related("product").order_by("said")
        return self.paged(
            rows,
            lambda page: [
                GoodsNameOut(id=one.pk, said=one.said, sku=one.product.sku, name=one.product.name) for one in page
            ],
        )


class GoodsNameView(MemberView):
    """DELETE /api/goods-names/{id}"""

    owner_only = frozenset({"DELETE"})

    @extend_schema(operation_id="forget_goods_name", request=None, responses={204: None, **PROBLEMS})
    def delete(self, request: object, name_id: int) -> Response:
        """Forget which product a name means; the next file with it is asked about."""
        forget_name(workshop=self.workshop, name_id=name_id)
        return Response(status=204)


def _channel_out(row: ChannelFile) -> ChannelFileOut:
    matching = matching_from_json(row.matching)
    return ChannelFileOut(id=row.pk, name=row.name, columns=row.head, fields=_fields(matching, {}, by_person=True))


def _fields(matching: Matching, why: Mapping[FieldName, Guessed], *, by_person: bool) -> list[FieldOut]:
    found = []
    for name in FIELDS:
        columns = list(matching.columns.get(name, ()))
        reason = why.get(name)
        found.append(
            FieldOut(
                name=name,
                several=name in REPEATED,
                columns=columns,
                constant=matching.constants.get(name, ""),
                by=reason.by if reason else "person" if columns and by_person else "",
                read=reason.read if reason else None,
            )
        )
    return found


def _matching_out(file: Opened, *, by_person: bool) -> MatchingOut | None:
    if file.matching is None:
        return None
    return MatchingOut(
        fields=_fields(file.matching, file.why or {}, by_person=by_person or file.kind == "kept"),
        columns=[
            ColumnOut(
                name=one.name,
                filled=len(one.values),
                samples=[value[:60] for value in list(dict.fromkeys(one.values))[:_SAMPLES]],
            )
            for one in file.columns
        ],
        day_order=file.matching.day_order,
        decimal_mark=file.matching.decimal_mark,
        words={name: dict(words) for name, words in file.matching.words.items()},
        countries=list(file.countries),
        questions=[QuestionOut(about=one.about, field=one.field, sample=one.sample) for one in file.questions],
    )


_WORDS = {
    "changed": "imported before and different now: you decide about it under Changes after the import",
    "cancelled": "imported before and cancelled since: you decide about it under Changes after the import",
    "void": "cancelled or sent already, and never here",
    "known": "",
    "new": "",
}


def _preview(workshop: Workshop, file: Opened, intake: Intake, *, by_person: bool) -> PreviewOut:
    read = file.read
    seen = {key_of(cells) for _, cells in read.raw}
    lines = _lines(file, intake)
    return PreviewOut(
        kind=file.kind,
        channel=file.channel,
        matching=_matching_out(file, by_person=by_person),
        unknown=[UnknownOut(said=one.said[:120], title=one.title[:120], lines=one.lines) for one in file.unknown[:200]],
        lines=lines[:_SHOWN_LINES],
        more_lines=max(0, len(lines) - _SHOWN_LINES),
        faults=[
            FaultOut(line=f.line, column=f.column, value=f.value, allowed=f.allowed)
            for f in intake.faults[:_SHOWN_LINES]
        ],
        new_orders=intake.count("new"),
        known_orders=intake.count("known"),
        changed_orders=intake.count("changed"),
        cancelled_orders=intake.count("cancelled"),
        void_orders=intake.count("void"),
        left_out_orders=len(seen) - len(intake.orders) if read.raw else 0,
        places=_places(workshop, intake),
        elsewhere=_elsewhere(workshop, intake),
        encoding=read.encoding,
    )


def _lines(file: Opened, intake: Intake) -> list[PreviewLine]:
    by_order = {(order.channel, order.number): order for order in intake.orders}
    faults: dict[int, list[str]] = {}
    for fault in intake.faults:
        faults.setdefault(fault.line, []).append(f"{fault.column}: {fault.value or 'empty'} (allowed: {fault.allowed})")
    told: set[tuple[str, str]] = set()
    lines = []
    for number, cells in file.read.raw:
        key = key_of(cells)
        order = by_order.get(key)
        first = order is not None and key not in told
        told.add(key)
        verdict, words = _judged(number, order, faults)
        lines.append(
            PreviewLine(
                line=number,
                order=cells.get("order", "")[:40],
                buyer=cells.get("buyer", "")[:80],
                sku=cells.get("sku", "")[:40],
                quantity=cells.get("quantity", "")[:12],
                verdict=verdict,
                words=words,
                label=_label(order) if first and order is not None else [],
            )
        )
    lines += [
        PreviewLine(line=at, order="", buyer="", sku="", quantity="", verdict="total", words="it is a total", label=[])
        for at in file.read.left_out
    ]
    return sorted(lines, key=lambda one: one.line)


def _judged(number: int, order: GroupedOrder | None, faults: Mapping[int, list[str]]) -> tuple[_Verdict, str]:
    if number in faults:
        return "fault", "; ".join(faults[number])
    if order is None:
        return "left_out", "another line of this order has an error"
    return order.verdict, _WORDS[order.verdict]


def _elsewhere(workshop: Workshop, intake: Intake) -> list[ElsewhereOut]:
    """The same orders under another channel's name: imported so they would be packed twice."""
    buyers = {order.number: order.rows[0].buyer for order in intake.orders if order.verdict == "new"}
    rows = Order.objects.of(workshop).filter(number__in=buyers).values_list("channel", "number", "buyer")
    counts = Counter(channel for channel, number, buyer in rows if buyers[number] == buyer)
    return [ElsewhereOut(channel=channel, orders=count) for channel, count in counts.most_common(5)]


def _label(order: GroupedOrder) -> list[str]:
    lead = order.rows[0]
    return [lead.buyer, *lead.address_lines, f"{lead.postcode} {lead.country}"]


def _places(workshop: Workshop, intake: Intake) -> list[AddressOut]:
    """Addresses of new orders that no carrier reaches, that cost more everywhere, or whose postcode looks odd."""
    tariffs = tariffs_in_force(core_tariffs(workshop), today(workshop))
    if not tariffs:
        return []
    origin = Place(country=workshop.country, postcode=plain_postcode(workshop.postcode))
    checked: dict[Place, PlaceCheck] = {}
    found = []
    for order in intake.orders:
        if order.verdict != "new":
            continue
        lead = order.rows[0]
        place = Place(country=lead.country, postcode=plain_postcode(lead.postcode))
        check = checked.get(place) or checked.setdefault(place, check_place(tariffs, place, origin))
        if check.needs_a_look:
            found.append(
                AddressOut(
                    order=lead.order,
                    buyer=lead.buyer,
                    place=f"{lead.postcode} {lead.country}",
                    reached=check.reached,
                    words=list(check.messages()),
                )
            )
    return found[:_SHOWN_PLACES]
