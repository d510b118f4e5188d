"""Addresses of arrivals."""

from django.urls import path

from server.outcomes import api, buyer_api, claims_api, importing_api, learned_api, trials_api, where_api

urlpatterns = [
    path("arrived/<slug:code>", buyer_api.BuyerPageView.as_view()),
    path("arrivals", api.ArrivalsView.as_view()),
    path("arrivals/import", importing_api.ImportOutcomesView.as_view()),
    path("arrivals/import/preview", importing_api.PreviewOutcomesView.as_view()),
    path("arrivals/ask-carriers", api.AskCarriersView.as_view()),
    path("arrivals/carriers", claims_api.CarriersReportView.as_view()),
    path("arrivals/recipes", where_api.DamageListView.as_view()),
    path("arrivals/<int:arrival_id>", api.ArrivalView.as_view()),
    path("arrivals/<int:arrival_id>/answer", api.AnswerView.as_view()),
    path("arrivals/<int:arrival_id>/photos", api.ArrivalPhotosView.as_view()),
    path("arrival-photos/<int:photo_id>", api.ArrivalPhotoView.as_view()),
    path("learned", learned_api.LearnedView.as_view()),
    path("learned/effects", learned_api.LearnedEffectsView.as_view()),
    path("learned/taken", learned_api.TakeLearnedView.as_view()),
    path("learned/taken/<int:value_id>/undo", learned_api.UndoLearnedView.as_view()),
    path("claims", claims_api.ClaimsView.as_view()),
    path("claims/<int:claim_id>/claim.pdf", importing_api.ClaimPdfView.as_view()),
    path("claims/<int:claim_id>", claims_api.ClaimView.as_view()),
    path("recipes/<int:recipe_id>/arrivals", where_api.RecipeDamageView.as_view()),
    path("recipes/<int:recipe_id>/suggestions", where_api.SuggestionsView.as_view()),
    path("version-trials", trials_api.VersionTrialsView.as_view()),
    path("version-trials/needed", trials_api.NeededView.as_view()),
    path("version-trials/<int:trial_id>", trials_api.VersionTrialView.as_view()),
    path("version-trials/<int:trial_id>/end", trials_api.EndTrialView.as_view()),
]
