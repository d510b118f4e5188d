"""Policies and what following one would change, over HTTP: thin."""

from typing import Annotated

from django.http import Http404
from pydantic import BaseModel, Field

from core.designing.policies import POLICIES, Breach, Policy
from core.messages import Text, say
from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.designing.effects import PolicyEffect, effects_of, obey
from server.workshops.models import Workshop

__all__ = ["PoliciesView", "PolicyEffectView"]


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

    @operation("policies")
    def get(self) -> PoliciesOut:
        """What the workshop follows."""
        return _policies(self.workshop)

    @operation("set_policies")
    def put(self, body: PoliciesIn) -> PoliciesOut:
        """Hold to these policies: recipes that break one are marked, none is changed."""
        chosen = list(dict.fromkeys(body.policies))
        if {"fragile_marks_always", "fragile_marks_never"} <= set(chosen):
            raise Refused(
                "Fragile marks are either always or never; choose one.", code="not_valid", status=422, field="policies"
            )
        Workshop.objects.filter(pk=self.workshop.pk).update(policies=chosen)
        self.workshop.policies = chosen
        return _policies(self.workshop)


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

    @operation("policy_effect")
    def get(self, policy: str) -> EffectOut:
        """What the policy would change: every recipe that breaks it, and the difference in cost, grams, minutes."""
        known = _known_policy(policy)
        effects = effects_of(self.workshop, known)
        return EffectOut(policy=known, words=say(f"policy_{known}"), effects=effects)

    @operation("obey_policy")
    def post(self, body: ObeyIn, policy: str) -> ObeyOut:
        """Make a new version of these recipes that keeps to the policy; open orders follow."""
        known = _known_policy(policy)
        made, left = obey(by=self.member, policy=known, recipe_ids=body.recipe_ids)
        return ObeyOut(made=made, left=left)


def _known_policy(given: str) -> Policy:
    for policy in POLICIES:
        if policy == given:
            return policy
    raise Http404
