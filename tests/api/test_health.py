"""Liveness and readiness: what supervises the server is told which part is missing."""

from __future__ import annotations

from types import SimpleNamespace

import pytest
from django.db import OperationalError, connection

pytestmark = pytest.mark.django_db


def test_alive_says_nothing_of_what_it_needs(client, monkeypatch):
    monkeypatch.setattr(connection, "cursor", _away)
    assert client.get("/healthz").json() == {"status": "ok"}


def test_ready_names_what_is_missing(client, monkeypatch, settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path
    said = client.get("/readyz")
    assert said.status_code == 503
    assert said.json()["worker"].startswith("no worker runs")
    assert {said.json()[part] for part in ("database", "store", "disk")} == {"ok"}
    with connection.cursor() as cursor:
        cursor.execute("insert into procrastinate_workers default values")
    assert client.get("/readyz").json()["status"] == "ok"
    full = SimpleNamespace(free=2**20)
    monkeypatch.setattr("shutil.disk_usage", lambda _: full)
    assert "found 1 MB free" in client.get("/readyz").json()["disk"]
    settings.MEDIA_ROOT = tmp_path / "file" / "below"
    (tmp_path / "file").write_text("in the way")
    assert "cannot be written" in client.get("/readyz").json()["store"]


def test_ready_without_a_database_is_an_answer_and_no_error(client, monkeypatch):
    monkeypatch.setattr(connection, "cursor", _away)
    said = client.get("/readyz")
    assert (said.status_code, said.json()["database"]) == (503, "the database does not answer")


def _away(*_, **__):
    raise OperationalError("connection refused")
