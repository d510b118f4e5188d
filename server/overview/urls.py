"""Addresses of what looks over all rooms."""

from django.urls import path

from server.overview import api, health

urlpatterns = [
    path("health", health.HealthView.as_view()),
    path("rail", api.RailView.as_view()),
    path("find", api.FindView.as_view()),
]
