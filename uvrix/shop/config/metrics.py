"""Figures of the server for whoever watches it (Prometheus): requests by route, how long they took, what waits."""

from __future__ import annotations

import os
import secrets
import time
from collections.abc import Callable

from django.conf import settings
from django.db import Error, connection
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.views.decorators.cache import never_cache
from prometheus_client import (
    CONTENT_TYPE_LATEST,
    REGISTRY,
    CollectorRegistry,
    Counter,
    Gauge,
    Histogram,
    generate_latest,
    multiprocess,
)

# Where the processes of one server add their figures up; set by launch/serve.py.
TOGETHER = "PROMETHEUS_MULTIPROC_DIR"
REQUESTS = Counter("uvrix_requests", "Requests answered.", ["method", "route", "status"])
SECONDS = Histogram(
    "uvrix_request_seconds",
    "How long a request took.",
    ["method", "route"],
    buckets=(0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10, 60),
)
WAITING = "select status, count(*) from procrastinate_jobs where status in ('todo', 'doing', 'failed') group by 1"


class Measured:
    """Counts every request under its route, never under its address: addresses name jobs and open doors."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, counted."""
        begun = time.perf_counter()
        response = self.answer(request)
        route = request.resolver_match.view_name if request.resolver_match else "none"
        method = request.method if request.method in METHODS else "other"
        REQUESTS.labels(method, route, response.status_code).inc()
        SECONDS.labels(method, route).observe(time.perf_counter() - begun)
        return response


METHODS = frozenset({"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"})


@never_cache
def metrics(request: HttpRequest) -> HttpResponse:
    """The figures, for whoever sends the token of UVRIX_METRICS_TOKEN; without one set there is nothing here."""
    token = settings.METRICS_TOKEN
    sent = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not token or not secrets.compare_digest(sent.encode(), token.encode()):
        return HttpResponse("Nothing is here.", status=404, content_type="text/plain")
    gathered = REGISTRY
    if os.environ.get(TOGETHER):
        gathered = CollectorRegistry()
        multiprocess.MultiProcessCollector(gathered)  # type: ignore[no-untyped-call]
    return HttpResponse(generate_latest(gathered) + _waiting(), content_type=CONTENT_TYPE_LATEST)


def _waiting() -> bytes:
    """Tasks of the worker by their state, read where they are kept."""
    counted = CollectorRegistry()
    tasks = Gauge("uvrix_tasks", "Tasks of the worker.", ["state"], registry=counted)
    up = Gauge("uvrix_database_up", "Whether the database answers.", registry=counted)
    try:
        with connection.cursor() as cursor:
            cursor.execute(WAITING)
            found = dict(cursor.fetchall())
    except Error:
        up.set(0)
        return generate_latest(counted)
    up.set(1)
    for state in ("todo", "doing", "failed"):
        tasks.labels(state).set(found.get(state, 0))
    return generate_latest(counted)
