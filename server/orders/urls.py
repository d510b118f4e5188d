"""Addresses of orders."""

from django.urls import path

from server.orders import api

urlpatterns = [
    path("orders", api.OrdersView.as_view()),
    path("orders/intake/preview", api.PreviewView.as_view()),
    path("orders/<int:order_id>", api.OrderView.as_view()),
    path("orders/<int:order_id>/cancel", api.CancelView.as_view()),
    path("orders/<int:order_id>/hold", api.HoldView.as_view()),
]
