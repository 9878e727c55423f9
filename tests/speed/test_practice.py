"""How soon a screen has a virtual card's reading, beside a bare session: ./test --speed.

Bar: under 100 ms at the median, after a whole card's work.
"""

from __future__ import annotations

import time
from statistics import median
from uuid import uuid4

import pytest
from rest_framework.test import APIClient

from tests.api.conftest import BOARDS
from tests.speed.test_api import p95
from uvrix.shop.library.services import import_board
from uvrix.shop.practice.services import Begun, begin, card_of_level

pytestmark = [pytest.mark.django_db]
BAR_S, READINGS, BEFORE = 0.1, 60, 60
POINTS = ("PA", "PB", "C2", "C8", "L21", "L22", "L23", "L24", "L25")


def test_a_virtual_reading_is_there_in_a_tenth_of_a_second(lead):
    edition = import_board((BOARDS / "scaup-24.board.json").read_bytes(), "scaup-24", lead)[0]
    job = begin(Begun(uuid4(), card_of_level(edition.model, "shorts", 3)), lead)[0]
    browser = APIClient()
    browser.force_login(lead, backend="django.contrib.auth.backends.ModelBackend")

    def ask(do, target, **more):
        body = {"id": str(uuid4()), "do": do, "target": target, **more}
        answer = browser.post(f"/api/v1/jobs/{job.pk}/practice/steps", body, format="json")
        assert answer.status_code == 201, answer.content

    ask("power", "off")
    taken = []
    for number in range(BEFORE + READINGS):
        begun = time.perf_counter()
        ask("read", POINTS[number % len(POINTS)], quantity="resistance")
        taken.append(time.perf_counter() - begun)
    bare = p95(lambda _: browser.get("/api/v1/session"))
    middle = median(taken[BEFORE:])
    told = f"{1000 * middle:.0f} ms at the median; a bare session {bare:.1f} ms at p95"
    print(f"\na virtual reading after {BEFORE} others: {told}")
    assert middle < BAR_S
