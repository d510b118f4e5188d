"""Addresses of rates."""

from django.urls import path

from server.rates import api, check_api

urlpatterns = [
    path("rates/compare", api.CompareView.as_view()),
    path("tariffs/check", check_api.CheckTariffView.as_view()),
    path("tariffs", api.TariffsView.as_view()),
    path("tariffs/<int:tariff_id>", api.TariffView.as_view()),
    path("tariffs/<int:tariff_id>/file", api.TariffFileView.as_view()),
    path("tariffs/<int:tariff_id>/steps", api.StepsView.as_view()),
    path("tariffs/<int:tariff_id>/effect", api.EffectView.as_view()),
    path("choosing", api.ChoosingView.as_view()),
]
