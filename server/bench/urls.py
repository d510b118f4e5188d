"""Addresses of the bench."""

from django.urls import path

from server.bench import api, outer_api, practice_api, printing_api, ready_api, together_api

urlpatterns = [
    path("practice", practice_api.PracticeListView.as_view()),
    path("practice/<int:run_id>", practice_api.PracticeView.as_view()),
    path("practice/<int:run_id>/report", practice_api.PracticeReportView.as_view()),
    path("practice/<int:run_id>/weigh", practice_api.PracticeWeighView.as_view()),
    path("practice/<int:run_id>/end", practice_api.EndPracticeView.as_view()),
    path("ready-parcels", ready_api.ReadyParcelsView.as_view()),
    path("ready-parcels/<int:ready_id>/unpack", ready_api.UnpackView.as_view()),
    path("bench/together", together_api.TogetherView.as_view()),
    path("bench/together/done", together_api.TogetherDoneView.as_view()),
    path("bench/codes.pdf", printing_api.KeyCodesView.as_view()),
    path("printer", printing_api.PrinterView.as_view()),
    path("printer/labels", printing_api.PrintView.as_view()),
    path("printer/again", printing_api.PrinterAgainView.as_view()),
    path("printer/jobs/<int:job_id>", printing_api.CancelPrintView.as_view()),
    path("parcels", api.ParcelsView.as_view()),
    path("parcels/begin", api.BeginView.as_view()),
    path("parcels/<int:parcel_id>", api.ParcelView.as_view()),
    path("parcels/<int:parcel_id>/progress", api.ProgressView.as_view()),
    path("parcels/<int:parcel_id>/scale", api.ScaleView.as_view()),
    path("parcels/<int:parcel_id>/outer", outer_api.OuterView.as_view()),
    path("parcels/<int:parcel_id>/weigh", api.WeighView.as_view()),
    path("parcels/<int:parcel_id>/settle", api.SettleView.as_view()),
    path("parcels/<int:parcel_id>/label/record", api.RecordView.as_view()),
    path("parcels/<int:parcel_id>/label/void", api.VoidLabelView.as_view()),
    path("parcels/<int:parcel_id>/track", api.TrackView.as_view()),
    path("parcels/<int:parcel_id>/label", api.LabelView.as_view()),
    path("parcels/<int:parcel_id>/close", api.CloseView.as_view()),
    path("parcels/<int:parcel_id>/reopen", api.ReopenView.as_view()),
    path("parcels/<int:parcel_id>/hold", api.TakeOffView.as_view()),
    path("parcels/<int:parcel_id>/label.pdf", api.LabelPdfView.as_view()),
    path("parcels/<int:parcel_id>/slip.pdf", api.SlipPdfView.as_view()),
]
