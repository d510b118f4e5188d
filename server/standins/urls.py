"""Addresses of the stand-ins."""

from django.urls import path

from server.standins import api

urlpatterns = [
    path("standins", api.StandinsView.as_view()),
    path("standins/channel/happens", api.ChannelHappensView.as_view()),
    path("standins/<str:device>", api.StandinView.as_view()),
]
