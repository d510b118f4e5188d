"""Addresses of care."""

from django.urls import path

from server.care import api

urlpatterns = [
    path("care", api.CareLinesView.as_view()),
    path("care/forecast", api.ForecastView.as_view()),
    path("orders/<int:order_id>/care", api.CareView.as_view()),
    path("orders/<int:order_id>/consent", api.ConsentView.as_view()),
    path("orders/<int:order_id>/consent/answer", api.ConsentAnswerView.as_view()),
    path("freezer", api.FreezerView.as_view()),
    path("freezer/<int:lot_id>", api.FrozenLotView.as_view()),
]
