"""Addresses of recipes and products."""

from django.urls import path

from server.recipes import api, products_api, trials_api

urlpatterns = [
    path("products", products_api.ProductsView.as_view()),
    path("products/<int:product_id>", products_api.ProductView.as_view()),
    path("products/<int:product_id>/retire", products_api.RetireProductView.as_view()),
    path("products/<int:product_id>/photo", products_api.PhotoView.as_view()),
    path("recipes", api.RecipesView.as_view()),
    path("recipes/<int:recipe_id>/retire", api.RetireRecipeView.as_view()),
    path("recipes/<int:recipe_id>/versions", api.VersionsView.as_view()),
    path("recipes/<int:recipe_id>/versions/<int:number>", api.VersionView.as_view()),
    path("recipes/<int:recipe_id>/trials", trials_api.TrialsView.as_view()),
    path("trials/<int:trial_id>/photo", trials_api.TrialPhotoView.as_view()),
]
