"""Addresses of the cupboard."""

from django.urls import path

from server.supplies import api, counting_api, purchases_api

urlpatterns = [
    path("shelves", api.ShelvesView.as_view()),
    path("shelves/<str:letter>", api.ShelfView.as_view()),
    path("supplies", api.SuppliesView.as_view()),
    path("supplies/estimate", api.EstimateView.as_view()),
    path("supplies/places.pdf", api.PlaceLabelsView.as_view()),
    path("supplies/reclaimed", api.ReclaimView.as_view()),
    path("supplies/convert", counting_api.ConvertView.as_view()),
    path("supplies/<int:supply_id>/spoil", counting_api.SpoilView.as_view()),
    path("counts", counting_api.CountSessionsView.as_view()),
    path("counts/sheet.pdf", counting_api.CountSheetView.as_view()),
    path("counts/<int:session_id>", counting_api.CountSessionView.as_view()),
    path("counts/<int:session_id>/lines", counting_api.CountLineView.as_view()),
    path("counts/<int:session_id>/close", counting_api.CloseCountView.as_view()),
    path("suppliers", purchases_api.SuppliersView.as_view()),
    path("suppliers/<int:supplier_id>", purchases_api.SupplierView.as_view()),
    path("suppliers/<int:supplier_id>/offers/<int:supply_id>", purchases_api.OfferView.as_view()),
    path("purchases", purchases_api.PurchasesView.as_view()),
    path("purchases/<int:purchase_id>", purchases_api.PurchaseView.as_view()),
    path("purchases/<int:purchase_id>/receive", purchases_api.ReceivePurchaseView.as_view()),
    path("purchases/<int:purchase_id>/expect", purchases_api.ExpectView.as_view()),
    path("purchases/<int:purchase_id>/cancel", purchases_api.CancelPurchaseView.as_view()),
    path("purchases/<int:purchase_id>/order.pdf", purchases_api.PurchasePdfView.as_view()),
    path("purchases/<int:purchase_id>/order.csv", purchases_api.PurchaseCsvView.as_view()),
    path("supplies/<int:supply_id>", api.SupplyView.as_view()),
    path("supplies/<int:supply_id>/arrange", api.ArrangeView.as_view()),
    path("supplies/<int:supply_id>/bring-back", api.BringBackView.as_view()),
    path("supplies/<int:supply_id>/entries", api.EntriesView.as_view()),
    path("supplies/<int:supply_id>/receive", api.ReceiveView.as_view()),
    path("supplies/<int:supply_id>/count", api.CountView.as_view()),
]
