"""Addresses of orders."""

from django.urls import path

from server.orders import api, intake_api

urlpatterns = [
    path("channel-files", intake_api.ChannelFilesView.as_view()),
    path("channel-files/<int:channel_id>", intake_api.ChannelFileView.as_view()),
    path("goods-names", intake_api.GoodsNamesView.as_view()),
    path("goods-names/<int:name_id>", intake_api.GoodsNameView.as_view()),
    path("orders", api.OrdersView.as_view()),
    path("orders/intake/preview", intake_api.PreviewView.as_view()),
    path("orders/<int:order_id>", api.OrderView.as_view()),
    path("orders/<int:order_id>/cancel", api.CancelView.as_view()),
    path("orders/<int:order_id>/hold", api.HoldView.as_view()),
]
