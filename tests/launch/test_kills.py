"""kill -9 of the server and of the database, between and during entries: nothing acknowledged is lost, none twice."""

from __future__ import annotations

import json
import threading
import urllib.error
from uuid import uuid4

import pytest

ENTRIES, KILLS = 30, (8, 19)


@pytest.mark.parametrize("victim", ["server", "database"])
def test_nothing_acknowledged_is_lost_and_nothing_counts_twice(shop, victim):
    """As the browser does: what was not acknowledged is sent again, in order, until it is."""
    kill = shop.kill_server if victim == "server" else shop.kill_database
    sent = [str(uuid4()) for _ in range(ENTRIES)]
    killers: list[threading.Thread] = []
    unanswered = 0
    for number, entry in enumerate(sent):
        if number in KILLS:  # during the entries, not between them; one kill at a time, its victim back before the next
            for earlier in killers:
                earlier.join()
            killers.append(threading.Thread(target=kill))
            killers[-1].start()
        body = {"id": entry, "kind": "other", "words": f"{victim} {number}"}
        again = True
        while again:
            try:
                with shop.ask(f"jobs/{shop.job}/owed", body) as answer:
                    again = answer.status not in (200, 201)
            except (urllib.error.URLError, ConnectionError, TimeoutError):
                unanswered += 1
    for killer in killers:
        killer.join()
    assert unanswered > 0, "the kills were felt"
    with shop.ask(f"jobs/{shop.job}/owed", method="GET") as answer:
        kept = [load["key"] for load in json.loads(answer.read()) if load["words"].startswith(victim)]
    assert sorted(kept) == sorted(sent)
