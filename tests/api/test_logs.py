"""What is written down: a line of JSON with its request's number, and no way in for whoever reads it."""

from __future__ import annotations

import json
import logging
import sys
from secrets import token_urlsafe

import pytest

from uvrix.shop.config.logs import JsonLines, masked


@pytest.mark.parametrize("way", ["/c/{}", "/api/v1/customer/{}/photographs", "/phone/{}", "/welcome/{}"])
def test_what_opens_a_door_is_not_written_down(way):
    token = token_urlsafe(32)
    line = masked(f"Gone: http://bench.test{way.format(token)}")
    assert token not in line
    assert line.startswith("Gone: http://bench.test/")


def test_addresses_that_open_nothing_stay_as_they_are():
    line = "Not Found: /api/v1/jobs/17/photographs/0a0b0c0d0e0f0a0b0c0d0e0f"
    assert masked(line) == line


@pytest.mark.django_db
def test_a_request_has_one_number_in_its_answer_and_in_the_log(client, caplog):
    caplog.handler.setFormatter(JsonLines())
    token = token_urlsafe(32)
    with caplog.at_level(logging.WARNING, "django.request"):
        answer = client.get(f"/api/v1/invitations/{token}", headers={"X-Request-ID": "of-the-proxy-7"})
    assert answer.status_code == 410
    assert answer["X-Request-ID"] == "of-the-proxy-7"
    lines = [json.loads(line) for line in caplog.text.splitlines()]
    assert [line["request"] for line in lines] == ["of-the-proxy-7"]
    assert token not in caplog.text
    assert client.get("/healthz", headers={"X-Request-ID": "no number \n"})["X-Request-ID"] != "no number \n"
    assert client.get("/healthz")["X-Request-ID"] != client.get("/healthz")["X-Request-ID"]


def test_a_traceback_is_part_of_its_line():
    def breaks():
        raise ValueError("/c/" + "x" * 43)

    try:
        breaks()
    except ValueError:
        record = logging.getLogger("x").makeRecord("x", logging.ERROR, "f", 1, "broke", (), sys.exc_info())
    said = json.loads(JsonLines().format(record))
    assert "ValueError" in said["traceback"]
    assert "x" * 43 not in said["traceback"]
