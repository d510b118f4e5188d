"""Addresses of channels and of other programs."""

from django.urls import path

from server.channels import api

urlpatterns = [
    path("channel-links", api.ChannelLinksView.as_view()),
    path("channel-links/<int:link_id>/off", api.ChannelLinkView.as_view()),
    path("channel-links/<int:link_id>/ask", api.AskChannelView.as_view()),
    path("incoming/orders", api.IncomingView.as_view()),
    path("tracking", api.TrackingView.as_view()),
]
