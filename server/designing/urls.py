"""Addresses of the design desk."""

from django.urls import path

from server.designing import api, files_api, steps_api

urlpatterns = [
    path("crafts", api.CraftsView.as_view()),
    path("products/file", files_api.ProductFilesView.as_view()),
    path("recipes/file", files_api.RecipeFilesView.as_view()),
    path("recipes/<int:recipe_id>/card.pdf", files_api.CardView.as_view()),
    path("recipes/propose", api.ProposeView.as_view()),
    path("recipes/preview", api.PreviewNewView.as_view()),
    path("recipes/<int:recipe_id>/ways", api.WaysView.as_view()),
    path("recipes/<int:recipe_id>/compare/<int:before>/<int:after>", api.CompareView.as_view()),
    path("recipes/<int:recipe_id>/steps", steps_api.RecipeStepsView.as_view()),
    path("products/<int:product_id>/unit-costs", steps_api.UnitCostsView.as_view()),
    path("readiness", api.ReadinessView.as_view()),
    path("policies", api.PoliciesView.as_view()),
    path("policies/<slug:policy>/effect", api.PolicyEffectView.as_view()),
]
