"""Addresses of beginning."""

from django.urls import path

from server.beginning import api, workshop_api

urlpatterns = [
    path("begin", api.BeginView.as_view()),
    path("begin/workshop", api.SetUpView.as_view()),
    path("begin/sample", api.SampleView.as_view()),
    path("sample", api.OwnSampleView.as_view()),
    path("workshop", workshop_api.WorkshopView.as_view()),
    path("first-parcel", api.FirstParcelView.as_view()),
    path("supplies/starter", api.StarterView.as_view()),
]
