"""Addresses of the day."""

from django.urls import path

from server.day import api

urlpatterns = [
    path("day", api.DayView.as_view()),
    path("day/times", api.TimesView.as_view()),
    path("day/prepared", api.PreparedView.as_view()),
    path("day/begin", api.BeginWaveView.as_view()),
    path("day/missing", api.MissingView.as_view()),
    path("day/tasks.ics", api.CalendarView.as_view()),
    path("day/orders/<int:order_id>/moves", api.MovesView.as_view()),
]
