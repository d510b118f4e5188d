"""Addresses of recipes and products."""

from django.urls import path

from server.recipes import api

urlpatterns = [
    path("products", api.ProductsView.as_view()),
    path("recipes", api.RecipesView.as_view()),
    path("recipes/<int:recipe_id>", api.RecipeView.as_view()),
    path("recipes/<int:recipe_id>/preview", api.PreviewView.as_view()),
    path("recipes/<int:recipe_id>/versions", api.VersionsView.as_view()),
    path("recipes/<int:recipe_id>/versions/<int:number>", api.VersionView.as_view()),
]
