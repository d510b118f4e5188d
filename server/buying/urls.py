"""Addresses of buying."""

from django.urls import path

from server.buying import api

urlpatterns = [
    path("buying/cover", api.CoversView.as_view()),
    path("buying/list", api.BuyListView.as_view()),
    path("buying/waiting", api.WaitingView.as_view()),
    path("buying/asleep", api.AsleepView.as_view()),
    path("buying/settings", api.BuyingSettingsView.as_view()),
    path("buying/supplies/<int:supply_id>", api.OutlookView.as_view()),
    path("buying/supplies/<int:supply_id>/place", api.PlaceView.as_view()),
    path("buying/cartons", api.CartonReportsView.as_view()),
    path("buying/cartons/<int:report_id>", api.CartonReportView.as_view()),
]
