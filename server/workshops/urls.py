"""Addresses of the session and of the workshop's people."""

from django.urls import path

from server.workshops import api, people_api, tokens_api

urlpatterns = [
    path("session", api.SessionView.as_view()),
    path("session/sign-in", api.SignInView.as_view()),
    path("session/password", people_api.PasswordView.as_view()),
    path("session/places", people_api.PlacesView.as_view()),
    path("session/places/<int:place_id>", people_api.PlaceView.as_view()),
    path("tokens", tokens_api.TokensView.as_view()),
    path("tokens/<int:token_id>/revoke", tokens_api.RevokeTokenView.as_view()),
    path("members", people_api.MembersView.as_view()),
    path("members/<int:member_id>", people_api.ChangeMemberView.as_view()),
    path("members/<int:member_id>/one-time-password", people_api.OneTimeView.as_view()),
]
