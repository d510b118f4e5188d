"""Addresses of the session, the rail and finding."""

from django.urls import path

from server.workshops import api

urlpatterns = [
    path("session", api.SessionView.as_view()),
    path("session/sign-in", api.SignInView.as_view()),
    path("rail", api.RailView.as_view()),
    path("find", api.FindView.as_view()),
]
