"""Addresses of money."""

from django.urls import path

from server.money import api, charges_api, what_if_api

urlpatterns = [
    path("money/months", api.MonthsView.as_view()),
    path("money/months/<str:month>", api.MonthView.as_view()),
    path("money/months/<str:month>/closed", api.CloseMonthView.as_view()),
    path("money/months/<str:month>/record.csv", api.RecordCsvView.as_view()),
    path("money/months/<str:month>/record.json", api.RecordJsonView.as_view()),
    path("money/orders/<int:order_id>", api.MoneyOrderView.as_view()),
    path("money/products/<int:product_id>/left", api.UnitsLeftView.as_view()),
    path("money/fees", api.FeesView.as_view()),
    path("money/fees/<int:fee_id>", api.FeeView.as_view()),
    path("money/charges", charges_api.ChargesView.as_view()),
    path("money/charges/runs", charges_api.RunsView.as_view()),
    path("money/charges/threshold", charges_api.ThresholdView.as_view()),
    path("money/charges/compared", charges_api.ComparedView.as_view()),
    path("money/charges/table.csv", charges_api.ShopTableView.as_view()),
    path("money/policies", charges_api.ChargePoliciesView.as_view()),
    path("money/policies/<int:policy_id>", charges_api.ChargePolicyView.as_view()),
    path("money/policies/<int:policy_id>/ours", charges_api.OursView.as_view()),
    path("money/settings", charges_api.MoneySettingsView.as_view()),
    path("money/what-ifs", what_if_api.WhatIfsView.as_view()),
    path("money/what-ifs/<int:what_if_id>", what_if_api.WhatIfView.as_view()),
    path("money/what-ifs/<int:what_if_id>/cancel", what_if_api.CancelWhatIfView.as_view()),
    path("money/what-ifs/<int:what_if_id>/kept", what_if_api.KeepWhatIfView.as_view()),
    path("money/what-ifs/<int:what_if_id>/what-if.csv", what_if_api.WhatIfCsvView.as_view()),
    path("money/what-ifs/<int:what_if_id>/what-if.pdf", what_if_api.WhatIfPdfView.as_view()),
]
