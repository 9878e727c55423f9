"""Figures for whoever watches the server: by route, by token, and nothing of a job or a person in them."""

from __future__ import annotations

import re

import pytest

WATCHERS = "of-the-watchers"


@pytest.fixture
def figures(client, settings):
    settings.METRICS_TOKEN = WATCHERS

    def asked(token=WATCHERS):
        return client.get("/metrics", headers={"Authorization": f"Bearer {token}"})

    return asked


def counted(text, name, **labels):
    said = ",".join(f'{key}="{value}"' for key, value in sorted(labels.items()))
    found = re.search(rf"^{name}{{{re.escape(said)}}} (\S+)$", text, re.MULTILINE)
    return float(found[1]) if found else 0.0


@pytest.mark.django_db
def test_requests_are_counted_by_route_and_never_by_address(figures, technician, job):
    asked = {"method": "GET", "route": "job", "status": "200"}
    before = counted(figures().content.decode(), "uvrix_requests_total", **asked)
    assert technician.get(f"/api/v1/jobs/{job.pk}").status_code == 200
    technician.get("/api/v1/customer/a-token-that-would-open-a-door")
    text = figures().content.decode()
    assert counted(text, "uvrix_requests_total", **asked) == before + 1
    assert 'uvrix_request_seconds_count{method="GET",route="job"}' in text
    assert "would-open" not in text
    assert counted(text, "uvrix_tasks", state="failed") == 0
    assert "uvrix_database_up 1.0" in text


@pytest.mark.parametrize("token", ["", "guessed", "of-the-watcher"])
def test_who_has_no_token_finds_nothing(figures, token, db):
    assert figures(token).status_code == 404


def test_without_a_token_set_there_is_nothing_at_all(client, settings, db):
    settings.METRICS_TOKEN = ""
    assert client.get("/metrics", headers={"Authorization": "Bearer "}).status_code == 404
