"""Addresses of the session."""

from django.urls import path

from server.workshops import api

urlpatterns = [
    path("session", api.SessionView.as_view()),
    path("session/sign-in", api.SignInView.as_view()),
]
