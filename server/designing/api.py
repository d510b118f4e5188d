"""The design desk over HTTP: thin."""

from functools import partial
from typing import Annotated, Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field, model_validator
from rest_framework.request import Request
from rest_framework.response import Response

from core.designing.bands import MOST_UNITS, SizeStep, cheapest_per_size
from core.designing.crafts import CRAFTS, craft_for, craft_named
from core.designing.differences import Difference, differences
from core.designing.policies import POLICIES, Breach, Policy
from core.designing.propose import Line, Materials, proposed
from core.designing.readiness import SizeReadiness
from core.messages import Text, say
from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer
from server.api.problems import Refused
from server.api.views import PAGE_PARAMETERS, PROBLEMS, Body, MemberView, Page, reply
from server.designing import readiness, ways
from server.designing.desk import desk_of, usual_inserts
from server.designing.effects import PolicyEffect, effects_of, obey
from server.designing.figures import BandFigures, band_figures
from server.formats.recipe import RecipeFile, document_of
from server.plans.services import everything_changed
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product, Recipe, RecipeVersion
from server.recipes.selectors import with_their_families
from server.workshops.models import Workshop, lock_workshop

__all__ = [
    "CompareView",
    "CraftsView",
    "PoliciesView",
    "PolicyEffectView",
    "PreviewNewView",
    "ProposeView",
    "ReadinessView",
    "WaysView",
]


class CraftOut(BaseModel):
    """A template of craft."""

    key: str
    name: str
    about: str


class CraftsOut(BaseModel):
    """All templates."""

    crafts: list[CraftOut]


class CraftsView(MemberView):
    """GET /api/crafts"""

    @extend_schema(operation_id="crafts", responses={200: CraftsOut, **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every template of craft to start a recipe from."""
        return reply(CraftsOut(crafts=[CraftOut(key=c.key, name=c.name, about=c.about) for c in CRAFTS]))


class ProposeIn(Body):
    """Which product, and how: a craft (none: the one that fits), the school of materials, parts to leave out, claims to put in."""

    product_id: int
    craft: Annotated[str, Field(max_length=30)] | None = None
    materials: Materials = "paper"
    without: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=40)] = []
    claims: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=40)] = []
    #: Work out order sizes up to this one; ``known`` are those an earlier answer of the same proposal has worked out.
    up_to: Annotated[int, Field(ge=1, le=MOST_UNITS)] = MOST_UNITS
    known: Annotated[list[SizeStep], Field(max_length=MOST_UNITS)] = []

    @model_validator(mode="after")
    def _from_one_on(self) -> "ProposeIn":
        if [step.units for step in self.known] != list(range(1, len(self.known) + 1)):
            raise ValueError("known: the sizes from 1 on, in order")
        return self


class ProposalOut(BaseModel):
    """A first recipe with its reasons; ``document`` is None when no container takes even one."""

    document: RecipeFile | None
    craft: str
    craft_about: str
    craft_why: list[Text]
    lines: list[Line]
    sizes: list[SizeStep]
    most: int  #: order sizes it is worked out for when it is whole
    whole: bool  #: every size to the most, or to the last that a container takes
    lacks: list[Text]
    figures: list[BandFigures]


class ProposeView(MemberView):
    """POST /api/recipes/propose"""

    @extend_schema(operation_id="propose_recipe", request=ProposeIn, responses={200: ProposalOut, **PROBLEMS})
    def post(self, request: Request) -> Response:
        """Propose a first recipe for a product; nothing is kept."""
        body = ProposeIn.model_validate(request.data)
        row = Product.objects.of(self.workshop).filter(pk=body.product_id).first()
        if row is None:
            raise Http404
        product = core_products([row], with_their_families(self.workshop, [row]))[row.sku]
        if product.size is None or product.weight_mg is None:
            raise Refused(
                f"{row.name} has no {'size' if product.size is None else 'weight'}. Enter it first.",
                code="no_size", status=422,
            )  # fmt: skip
        craft = craft_for(product) if body.craft is None else craft_named(body.craft)
        if craft is None:
            known = ", ".join(one.key for one in CRAFTS)
            raise Refused(
                f"There is no craft {body.craft}; there are {known}.", code="not_valid", status=422, field="craft"
            )
        found = proposed(
            product, craft, desk_of(self.workshop), code=_free_code(self.workshop, row.sku),
            usual_inserts=usual_inserts(self.workshop), materials=body.materials, without=tuple(body.without), claims=tuple(body.claims),
            sizes=partial(cheapest_per_size, up_to=body.up_to, known=tuple(body.known)),
        )  # fmt: skip
        document = document_of(found.recipe) if found.recipe else None
        return reply(
            ProposalOut(
                document=document,
                craft=craft.key,
                craft_about=craft.about,
                craft_why=list(found.craft_why),
                lines=list(found.lines),
                sizes=list(found.sizes),
                most=MOST_UNITS,
                whole=len(found.sizes) in (MOST_UNITS, len(body.known)) or len(found.sizes) < body.up_to,
                lacks=list(found.lacks),
                figures=band_figures(self.workshop, document, [row]) if document else [],
            )
        )


def _free_code(workshop: Workshop, sku: str) -> str:
    """Return a recipe code that is not taken, from the product's sku."""
    base = sku.lower()[:24]
    taken = set(Recipe.objects.of(workshop).filter(code__startswith=base).values_list("code", flat=True))
    return next(code for n in range(1, 10_000) if (code := base if n == 1 else f"{base}-{n}") not in taken)


class PreviewNewIn(Body):
    """A recipe as it would be, and the products it would pack."""

    document: Any
    product_ids: Annotated[list[int], Field(max_length=200)] = []


class PreviewNewOut(BaseModel):
    """What each band of it would come to."""

    figures: list[BandFigures]


class PreviewNewView(MemberView):
    """POST /api/recipes/preview"""

    @extend_schema(operation_id="preview_new_recipe", request=PreviewNewIn, responses={200: PreviewNewOut, **PROBLEMS})
    def post(self, request: Request) -> Response:
        """Work a recipe out that is not kept yet."""
        body = PreviewNewIn.model_validate(request.data)
        file = RecipeFile.model_validate(body.document)
        products = list(Product.objects.of(self.workshop).filter(pk__in=body.product_ids))
        return reply(PreviewNewOut(figures=band_figures(self.workshop, file, products)))


# --- ways and versions compared ---------------------------------------------------------------------------


class WaysIn(Body):
    """Which band of which document: the recipe as it is being changed, or as it stands."""

    band_first: Annotated[int, Field(ge=1, le=10_000)]
    document: Any = None


class WayOut(BaseModel):
    """One way of packing the same goods."""

    key: str
    name: Text
    problem: Text
    wraps: list[Text]
    candidate: Candidate | None  #: None: it does not go, ``problem`` says why
    layers: tuple[PackLayer, ...]


class WaysOut(BaseModel):
    """The ways side by side, which wins, and where the balance tips."""

    units: int
    goods: str
    winner: str
    words: Text
    balances: list[Text]
    ways: list[WayOut]
    bands: dict[str, Any]  #: each way's band as a document, to take it over


class WaysView(MemberView):
    """POST /api/recipes/{id}/ways"""

    @extend_schema(operation_id="compare_ways", request=WaysIn, responses={200: WaysOut, **PROBLEMS})
    def post(self, request: Request, recipe_id: int) -> Response:
        """Pack one band two or three ways and compare them."""
        body = WaysIn.model_validate(request.data)
        row = _in_force(self.workshop, recipe_id)
        document = row.document if body.document is None else body.document
        return reply(WaysOut(**ways.compared(self.workshop, row.recipe, document, body.band_first)))


class CompareOut(BaseModel):
    """Two versions side by side."""

    before: int
    after: int
    differences: list[Difference]
    figures_before: list[BandFigures]
    figures_after: list[BandFigures]


class CompareView(MemberView):
    """GET /api/recipes/{id}/compare/{before}/{after}"""

    @extend_schema(operation_id="compare_versions", responses={200: CompareOut, **PROBLEMS})
    def get(self, request: Request, recipe_id: int, before: int, after: int) -> Response:
        """Every difference between two versions, and what it does to cost, weight and size."""
        rows = {
            row.number: row
            for row in RecipeVersion.objects.of(self.workshop).filter(recipe_id=recipe_id, number__in=(before, after))
        }
        if before not in rows or after not in rows:
            raise Http404
        products = list(Product.objects.of(self.workshop).filter(recipe_id=recipe_id))
        files = [RecipeFile.model_validate(rows[number].document) for number in (before, after)]
        return reply(
            CompareOut(
                before=before,
                after=after,
                differences=list(differences(core_recipe(rows[before]), core_recipe(rows[after]))),
                figures_before=band_figures(self.workshop, files[0], products),
                figures_after=band_figures(self.workshop, files[1], products),
            )
        )


def _in_force(workshop: Workshop, recipe_id: int) -> RecipeVersion:
    row = (
        RecipeVersion.objects.of(workshop)
        .select_related("recipe")
        .filter(recipe_id=recipe_id)
        .order_by("-number")
        .first()
    )
    if row is None:
        raise Http404
    return row


# --- readiness --------------------------------------------------------------------------------------------


class ProductReadiness(BaseModel):
    """One product: ready for each order size, or what is missing."""

    product_id: int
    sku: str
    name: str
    recipe_id: int | None
    recipe: str | None
    ready: bool
    sizes: list[SizeReadiness]
    ready_sizes: list[bool]


class ReadinessView(MemberView):
    """GET /api/readiness"""

    @extend_schema(
        operation_id="readiness", parameters=PAGE_PARAMETERS, responses={200: Page[ProductReadiness], **PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        """Every product by order size: ready, or what is missing, newest products first."""
        rows = Product.objects.of(self.workshop).filter(contents=[]).select_related("recipe").order_by("-pk")
        return self.paged(rows, lambda page: [_readiness(*one) for one in readiness.of_products(self.workshop, page)])


def _readiness(row: Product, sizes: tuple[SizeReadiness, ...]) -> ProductReadiness:
    return ProductReadiness(
        product_id=row.pk,
        sku=row.sku,
        name=row.name,
        recipe_id=row.recipe_id,
        recipe=row.recipe.name if row.recipe else None,
        ready=all(size.ready for size in sizes),
        sizes=list(sizes),
        ready_sizes=[size.ready for size in sizes],
    )


# --- policies ---------------------------------------------------------------------------------------------


class PolicyOut(BaseModel):
    """One policy and whether the workshop follows it."""

    policy: Policy
    words: Text
    on: bool


class PoliciesOut(BaseModel):
    """All policies."""

    policies: list[PolicyOut]


class PoliciesIn(Body):
    """The policies the workshop follows."""

    policies: Annotated[list[Policy], Field(max_length=10)]


class RecipeBreaches(BaseModel):
    """A recipe that breaks a policy."""

    recipe_id: int
    recipe: str
    breaches: list[Breach]


class PoliciesView(MemberView):
    """GET and PUT /api/policies"""

    owner_only = frozenset({"PUT"})

    @extend_schema(operation_id="policies", responses={200: PoliciesOut, **PROBLEMS})
    def get(self, request: Request) -> Response:
        """What the workshop follows."""
        return reply(_policies(self.workshop))

    @extend_schema(operation_id="set_policies", request=PoliciesIn, responses={200: PoliciesOut, **PROBLEMS})
    def put(self, request: Request) -> Response:
        """Hold to these policies: recipes that break one are marked, none is changed."""
        body = PoliciesIn.model_validate(request.data)
        chosen = list(dict.fromkeys(body.policies))
        if {"fragile_marks_always", "fragile_marks_never"} <= set(chosen):
            raise Refused(
                "Fragile marks are either always or never; choose one.", code="not_valid", status=422, field="policies"
            )
        Workshop.objects.filter(pk=self.workshop.pk).update(policies=chosen)
        self.workshop.policies = chosen
        return reply(_policies(self.workshop))


def _policies(workshop: Workshop) -> PoliciesOut:
    rows = [PolicyOut(policy=p, words=say(f"policy_{p}"), on=p in workshop.policies) for p in POLICIES]
    return PoliciesOut(policies=rows)


class EffectOut(BaseModel):
    """What turning one policy on would change, recipe by recipe."""

    policy: Policy
    words: Text
    effects: list[PolicyEffect]


class ObeyIn(Body):
    """Recipes to make a new version of that keeps to the policy."""

    recipe_ids: Annotated[list[int], Field(min_length=1, max_length=200)]


class ObeyOut(BaseModel):
    """What became of them."""

    made: list[str]
    left: list[Text]


class PolicyEffectView(MemberView):
    """GET and POST /api/policies/{policy}/effect"""

    owner_only = frozenset({"POST"})

    @extend_schema(operation_id="policy_effect", responses={200: EffectOut, **PROBLEMS})
    def get(self, request: Request, policy: str) -> Response:
        """What the policy would change: every recipe that breaks it, and the difference in cost, grams, minutes."""
        known = _known_policy(policy)
        effects = effects_of(self.workshop, known)
        return reply(EffectOut(policy=known, words=say(f"policy_{known}"), effects=effects))

    @extend_schema(operation_id="obey_policy", request=ObeyIn, responses={200: ObeyOut, **PROBLEMS})
    def post(self, request: Request, policy: str) -> Response:
        """Make a new version of these recipes that keeps to the policy; open orders follow."""
        known = _known_policy(policy)
        body = ObeyIn.model_validate(request.data)
        with transaction.atomic():
            lock_workshop(self.workshop)
            made, left = obey(by=self.member, policy=known, recipe_ids=body.recipe_ids)
            everything_changed(workshop=self.workshop)
        return reply(ObeyOut(made=made, left=left))


def _known_policy(given: str) -> Policy:
    for policy in POLICIES:
        if policy == given:
            return policy
    raise Http404
