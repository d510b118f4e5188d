"""All addresses: the API under /api/, everything else is the one page of the front end."""

from django.urls import URLPattern, URLResolver, include, path, re_path
from drf_spectacular.views import SpectacularJSONAPIView

from server.api.spa import front_end

handler400 = "server.api.errors.bad_request"
handler403 = "server.api.errors.forbidden"
handler404 = "server.api.errors.not_found"
handler500 = "server.api.errors.server_error"

urlpatterns: list[URLPattern | URLResolver] = [
    path("api/schema", SpectacularJSONAPIView.as_view(), name="schema"),
    path("api/", include("server.workshops.urls")),
    path("api/", include("server.beginning.urls")),
    path("api/", include("server.overview.urls")),
    path("api/", include("server.supplies.urls")),
    path("api/", include("server.recipes.urls")),
    path("api/", include("server.orders.urls")),
    path("api/", include("server.plans.urls")),
    path("api/", include("server.designing.urls")),
    path("api/", include("server.rates.urls")),
    path("api/", include("server.bench.urls")),
    path("api/", include("server.standins.urls")),
    path("api/", include("server.care.urls")),
    path("api/", include("server.day.urls")),
    path("api/", include("server.outcomes.urls")),
    path("api/", include("server.channels.urls")),
    path("api/", include("server.buying.urls")),
    path("api/", include("server.money.urls")),
    re_path(r"^(?!api/|static/).*$", front_end, name="front-end"),
]
