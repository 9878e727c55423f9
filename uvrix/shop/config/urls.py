"""Every address of the server."""

from __future__ import annotations

from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularAPIView

import uvrix.shop.config.schema  # noqa: F401 - registers what the OpenAPI generator needs
from uvrix.shop.config.health import healthy, ready
from uvrix.shop.config.metrics import metrics
from uvrix.shop.config.pages import page
from uvrix.shop.config.problems import not_found
from uvrix.shop.config.roles import Role

API = "api/v1/"


class Schema(SpectacularAPIView):
    """The OpenAPI schema, for whoever is signed in."""

    roles = {"GET": frozenset(Role)}


urlpatterns = [
    path("healthz", healthy, name="healthz"),
    path("readyz", ready, name="readyz"),
    path("metrics", metrics, name="metrics"),
    path(f"{API}schema", Schema.as_view(), name="schema"),
    path(API, include("uvrix.shop.accounts.urls")),
    path(API, include("uvrix.shop.library.urls")),
    path(API, include("uvrix.shop.jobs.urls")),
    path(API, include("uvrix.shop.shelf.urls")),
    path(API, include("uvrix.shop.bench.urls")),
    path(API, include("uvrix.shop.planning.urls")),
    path(API, include("uvrix.shop.arrive.urls")),
    path(API, include("uvrix.shop.look.urls")),
    path(API, include("uvrix.shop.parcels.urls")),
    path(API, include("uvrix.shop.teardown.urls")),
    path(API, include("uvrix.shop.promises.urls")),
    path(API, include("uvrix.shop.hypotheses.urls")),
    path(API, include("uvrix.shop.ohms.urls")),
    path(API, include("uvrix.shop.shorts.urls")),
    path(API, include("uvrix.shop.volts.urls")),
    path(API, include("uvrix.shop.rework.urls")),
    path(API, include("uvrix.shop.stock.urls")),
    path(API, include("uvrix.shop.offers.urls")),
    path(API, include("uvrix.shop.customer_page.urls")),
    path(API, include("uvrix.shop.proving.urls")),
    path(API, include("uvrix.shop.returning.urls")),
    path(API, include("uvrix.shop.figures.urls")),
    path(API, include("uvrix.shop.archive.urls")),
    path(API, include("uvrix.shop.clock.urls")),
    path(API, include("uvrix.shop.record.urls")),
    path(API, include("uvrix.shop.case.urls")),
    path(API, include("uvrix.shop.practice.urls")),
    path(API, include("uvrix.shop.live.urls")),
    path(API, include("uvrix.shop.pictures.urls")),
    re_path(r"^api/", not_found, name="api-not-found"),
    re_path(r"^(?!assets/).*$", page, name="page"),
]
handler404 = "uvrix.shop.config.problems.not_found"
handler500 = "uvrix.shop.config.problems.server_error"
