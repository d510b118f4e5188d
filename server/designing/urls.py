"""Addresses of the design desk."""

from django.urls import path

from server.designing import (
    files_api,
    fits_api,
    policies_api,
    proposal_api,
    readiness_api,
    recipe_api,
    retiring_api,
    steps_api,
    ways_api,
)

urlpatterns = [
    path("crafts", proposal_api.CraftsView.as_view()),
    path("products/file", files_api.ProductFilesView.as_view()),
    path("recipes/file", files_api.RecipeFilesView.as_view()),
    path("recipes/<int:recipe_id>/card.pdf", files_api.CardView.as_view()),
    path("recipes/propose", proposal_api.ProposeView.as_view()),
    path("recipes/preview", proposal_api.PreviewNewView.as_view()),
    path("recipes/<int:recipe_id>", recipe_api.RecipeView.as_view()),
    path("recipes/<int:recipe_id>/preview", recipe_api.PreviewView.as_view()),
    path("recipes/<int:recipe_id>/ways", ways_api.WaysView.as_view()),
    path("recipes/<int:recipe_id>/compare/<int:before>/<int:after>", ways_api.CompareView.as_view()),
    path("recipes/<int:recipe_id>/steps", steps_api.RecipeStepsView.as_view()),
    path("products/<int:product_id>/unit-costs", steps_api.UnitCostsView.as_view()),
    path("readiness", readiness_api.ReadinessView.as_view()),
    path("supplies/<int:supply_id>/uses", retiring_api.SupplyUsesView.as_view()),
    path("supplies/<int:supply_id>/retire", retiring_api.RetireView.as_view()),
    path("fits", fits_api.FitsView.as_view()),
    path("policies", policies_api.PoliciesView.as_view()),
    path("policies/<slug:policy>/effect", policies_api.PolicyEffectView.as_view()),
]
