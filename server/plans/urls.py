"""Addresses of plans."""

from django.urls import path

from server.plans import api

urlpatterns = [
    path("orders/<int:order_id>/plan", api.OrderPlanView.as_view()),
    path("orders/<int:order_id>/plan/container", api.ChooseView.as_view()),
]
