"""Addresses of plans."""

from django.urls import path

from server.plans import advice_api, api, by_hand_api, orders_api, settings_api

urlpatterns = [
    path("orders/intake/accept", orders_api.AcceptView.as_view()),
    path("orders/changes", orders_api.ChangesView.as_view()),
    path("orders/changes/<int:change_id>/effect", orders_api.ChangeEffectView.as_view()),
    path("orders/changes/<int:change_id>/apply", orders_api.ApplyChangeView.as_view()),
    path("orders/changes/<int:change_id>/ignore", orders_api.IgnoreChangeView.as_view()),
    path("orders/joins", orders_api.JoinsView.as_view()),
    path("orders/joins/effect", orders_api.JoinEffectView.as_view()),
    path("orders/<int:order_id>/part", orders_api.PartView.as_view()),
    path("settings", settings_api.SettingsView.as_view()),
    path("settings/effect", settings_api.SettingsEffectView.as_view()),
    path("settings/history", settings_api.SettingsHistoryView.as_view()),
    path("buyers", by_hand_api.BuyersView.as_view()),
    path("orders/by-hand", by_hand_api.AddOrderView.as_view()),
    path("orders/by-hand/sketch", by_hand_api.SketchView.as_view()),
    path("orders/<int:order_id>/change", by_hand_api.ChangeOrderView.as_view()),
    path("orders/<int:order_id>/release", orders_api.ReleaseView.as_view()),
    path("plans/wave", api.WaveView.as_view()),
    path("plans/wave/stop", api.StopWaveView.as_view()),
    path("orders/<int:order_id>/plan", api.OrderPlanView.as_view()),
    path("orders/<int:order_id>/plan/overrides", api.OverridesView.as_view()),
    path("orders/<int:order_id>/plan/decisions", advice_api.DecisionsView.as_view()),
    path("orders/<int:order_id>/plan/advice", advice_api.PlanAdviceView.as_view()),
    path("orders/<int:order_id>/plan/spare", advice_api.PlanSpareView.as_view()),
    path("orders/<int:order_id>/plan/room", api.RoomView.as_view()),
    path("orders/<int:order_id>/plan/card.pdf", api.PackCardView.as_view()),
    path("orders/<int:order_id>/plan/container", api.ChooseView.as_view()),
]
