"""Addresses of the day."""

from django.urls import path

from server.day import api, holds_api, preparing_api, send_off_api

urlpatterns = [
    path("day", api.DayView.as_view()),
    path("day/times", api.TimesView.as_view()),
    path("day/prepare", preparing_api.PreparationsView.as_view()),
    path("day/calendar", preparing_api.CalendarAddressView.as_view()),
    path("calendar/<uuid:key>.ics", preparing_api.SharedCalendarView.as_view()),
    path("day/prepared", api.PreparedView.as_view()),
    path("day/begin", api.BeginWaveView.as_view()),
    path("day/missing", api.MissingView.as_view()),
    path("day/gather", api.GatherView.as_view()),
    path("day/gather.pdf", api.GatherPdfView.as_view()),
    path("day/closing/<int:parcel_id>", api.ClosingView.as_view()),
    path("day/tasks.ics", api.CalendarView.as_view()),
    path("day/orders/<int:order_id>/moves", api.MovesView.as_view()),
    path("holds", holds_api.HoldsView.as_view()),
    path("holds/risks", holds_api.RiskActionsView.as_view()),
    path("holds/<int:order_id>", holds_api.HoldNoteView.as_view()),
    path("send-off", send_off_api.SendOffView.as_view()),
    path("send-off/scan", send_off_api.ScanView.as_view()),
    path("send-off/scan/undo", send_off_api.UndoScanView.as_view()),
    path("send-off/hand-over", send_off_api.HandOverView.as_view()),
    path("send-off/sheet.pdf", send_off_api.SheetView.as_view()),
    path("send-off/<int:send_off_id>/undo", send_off_api.UndoHandOverView.as_view()),
    path("send-off/<int:send_off_id>/tracking.csv", send_off_api.TrackingFileView.as_view()),
]
