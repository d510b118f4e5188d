"""Addresses of the cupboard."""

from django.urls import path

from server.supplies import api

urlpatterns = [
    path("shelves", api.ShelvesView.as_view()),
    path("shelves/<str:letter>", api.ShelfView.as_view()),
    path("supplies", api.SuppliesView.as_view()),
    path("supplies/estimate", api.EstimateView.as_view()),
    path("supplies/places.pdf", api.PlaceLabelsView.as_view()),
    path("supplies/reclaimed", api.ReclaimView.as_view()),
    path("supplies/<int:supply_id>", api.SupplyView.as_view()),
    path("supplies/<int:supply_id>/arrange", api.ArrangeView.as_view()),
    path("supplies/<int:supply_id>/bring-back", api.BringBackView.as_view()),
    path("supplies/<int:supply_id>/entries", api.EntriesView.as_view()),
    path("supplies/<int:supply_id>/receive", api.ReceiveView.as_view()),
    path("supplies/<int:supply_id>/count", api.CountView.as_view()),
]
