"""Signing in and out, the rail's counts, and finding anything."""

from typing import Annotated, Any

from django.contrib.auth import authenticate, login, logout
from django.db.models import Count, Q
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from server.api.problems import Refused
from server.api.views import PROBLEMS, Body, MemberView, reply
from server.orders.models import Order
from server.recipes.models import Product, Recipe
from server.supplies.models import Supply
from server.workshops.models import Member, Workshop

__all__ = ["FindView", "RailView", "SessionView", "SignInView"]


class SignInIn(Body):
    """Who signs in."""

    username: Annotated[str, Field(min_length=1, max_length=150)]
    password: Annotated[str, Field(min_length=1, max_length=200)]


class SessionOut(BaseModel):
    """Who is signed in, where."""

    name: str
    role: str
    workshop: str
    currency: str
    money_digits: int
    unit_system: str
    country: str
    postcode: str


class RailOut(BaseModel):
    """Where the work stands."""

    orders: int  #: imported, not packed: new and held
    held: int
    plan: int  #: planned, waiting for the bench
    bench: int
    packed: int


class Found(BaseModel):
    """One thing found."""

    kind: str
    title: str
    detail: str
    path: str


class FoundOut(BaseModel):
    """What was found."""

    results: list[Found]


def _session(member: Member) -> SessionOut:
    workshop = member.workshop
    return SessionOut(
        name=member.name,
        role=member.role,
        workshop=workshop.name,
        currency=workshop.currency,
        money_digits=workshop.money_digits,
        unit_system=workshop.unit_system,
        country=workshop.country,
        postcode=workshop.postcode,
    )


@method_decorator(csrf_protect, name="dispatch")
class SignInView(APIView):
    """POST /api/session/sign-in"""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]
    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "sign_in"

    @extend_schema(operation_id="sign_in", request=SignInIn, responses={200: SessionOut, **PROBLEMS}, auth=[])
    def post(self, request: Request) -> Response:
        """Sign in. After five wrong passwords the name rests for ten minutes."""
        body = SignInIn.model_validate(request.data)
        user = authenticate(request._request, username=body.username, password=body.password)
        member = Member.of_user(user) if user is not None else None
        if user is None or member is None:
            raise Refused(
                "Name or password is wrong. Look at both and try again.",
                code="wrong_password",
                status=401,
                field="password",
            )
        login(request._request, user)
        return reply(_session(member))


@method_decorator(ensure_csrf_cookie, name="dispatch")
class SessionView(MemberView):
    """/api/session"""

    @extend_schema(operation_id="session", responses={200: SessionOut, **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Who is signed in."""
        return reply(_session(self.member))

    @extend_schema(operation_id="sign_out", responses={204: None, **PROBLEMS})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        return Response(status=204)


class RailView(MemberView):
    """GET /api/rail"""

    @extend_schema(operation_id="rail", responses={200: RailOut, **PROBLEMS})
    def get(self, request: Request) -> Response:
        """The counts of the rail, in one query."""
        states = dict(Order.objects.of(self.workshop).order_by().values_list("state").annotate(n=Count("id")))
        return reply(
            RailOut(
                orders=states.get("new", 0) + states.get("held", 0) + states.get("planned", 0),
                held=states.get("held", 0),
                plan=states.get("planned", 0),
                bench=states.get("bench", 0),
                packed=states.get("packed", 0),
            )
        )


class FindView(MemberView):
    """GET /api/find"""

    @extend_schema(operation_id="find", parameters=[OpenApiParameter("q", str)], responses={200: FoundOut, **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Orders, supplies, shelf places, recipes and products that hold the text."""
        text = request.query_params.get("q", "").strip().replace("\x00", "")[:60]
        return reply(FoundOut(results=_find(self.workshop, text) if text else []))


_EACH = 6


def _find(workshop: Workshop, text: str) -> list[Found]:
    orders = Order.objects.of(workshop).filter(Q(number__icontains=text) | Q(buyer__icontains=text))[:_EACH]
    place = Q(shelf__iexact=text[:1], slot=int(text[1:])) if text[1:].isdecimal() and len(text) < 4 else Q(pk=None)
    supplies = Supply.objects.of(workshop).filter(Q(code__icontains=text) | Q(name__icontains=text) | place)[:_EACH]
    recipes = Recipe.objects.of(workshop).filter(Q(name__icontains=text) | Q(code__icontains=text))[:_EACH]
    products = Product.objects.of(workshop).filter(Q(name__icontains=text) | Q(sku__icontains=text))[:_EACH]
    return [
        *(Found(kind="order", title=f"{o.number}, {o.buyer}", detail=o.state, path=_order_path(o)) for o in orders),
        *(
            Found(kind="supply", title=s.name, detail=f"{s.code}, shelf {s.place}", path=f"/cupboard?supply={s.pk}")
            for s in supplies
        ),
        *(Found(kind="recipe", title=r.name, detail=r.code, path=f"/recipes/{r.pk}") for r in recipes),
        *(
            Found(
                kind="product",
                title=p.name,
                detail=p.sku,
                path=f"/products?product={p.pk}",
            )
            for p in products
        ),
    ]


def _order_path(order: Order) -> str:
    if order.state in (Order.State.PACKED, Order.State.BENCH):
        return f"/orders?state={order.state}&find={order.number}"
    return f"/plan/{order.pk}"
