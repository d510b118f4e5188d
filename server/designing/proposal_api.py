"""Crafts and a first recipe proposed for a product, over HTTP: thin."""

from functools import partial
from typing import Annotated, Any

from django.http import Http404
from pydantic import BaseModel, Field, model_validator

from core.designing.bands import MOST_UNITS, SizeStep, cheapest_per_size
from core.designing.crafts import CRAFTS, craft_for, craft_named
from core.designing.propose import Line, Materials, proposed
from core.messages import Text
from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.designing.desk import desk_of, usual_inserts
from server.designing.figures import BandFigures, band_figures
from server.formats.recipe import RecipeFile, document_of
from server.recipes.mapping import core_products
from server.recipes.models import Product, Recipe
from server.recipes.selectors import with_their_families
from server.supplies.selectors import stock_of
from server.workshops.models import Workshop

__all__ = ["CraftsView", "PreviewNewView", "ProposeView"]


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

    @operation("crafts")
    def get(self) -> CraftsOut:
        """Every template of craft to start a recipe from."""
        return CraftsOut(crafts=[CraftOut(key=c.key, name=c.name, about=c.about) for c in CRAFTS])


class ProposeIn(Body):
    """Which product, and how: a craft (none: the one that fits), the school of materials, parts to leave out, claims
    to put in.
    """

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

    @operation("propose_recipe")
    def post(self, body: ProposeIn) -> ProposalOut:
        """Propose a first recipe for a product; nothing is kept."""
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
            product,
            craft,
            desk_of(self.workshop, [one for one in stock_of(self.workshop) if one.supply.retired_at is None]),
            code=_free_code(self.workshop, row.sku),
            usual_inserts=usual_inserts(self.workshop),
            materials=body.materials,
            without=tuple(body.without),
            claims=tuple(body.claims),
            sizes=partial(cheapest_per_size, up_to=body.up_to, known=tuple(body.known)),
        )
        document = document_of(found.recipe) if found.recipe else None
        return ProposalOut(
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

    @operation("preview_new_recipe")
    def post(self, body: PreviewNewIn) -> PreviewNewOut:
        """Work a recipe out that is not kept yet."""
        file = RecipeFile.model_validate(body.document)
        products = list(Product.objects.of(self.workshop).filter(pk__in=body.product_ids))
        return PreviewNewOut(figures=band_figures(self.workshop, file, products))


# --- ways and versions compared ---------------------------------------------------------------------------
