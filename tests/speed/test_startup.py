"""A start-up map of 300 nodes at typing speed: Enter to the map painted anew. Bar: a hand is at the next in 800 ms."""

from __future__ import annotations

import json
import statistics

import numpy as np

from tests.api.conftest import BOARDS
from uvrix.core.virtual.startups import random_map

NODES, READINGS = 300, 20
WATCH = """(id) => new Promise((done) => {
  const begun = performance.now();
  const node = document.querySelector(`[data-node="${id}"]`);
  const look = () => {
    const now = document.querySelector(`[data-node="${id}"]`);
    if (now && now.getAttribute("data-state") !== "unknown")
      requestAnimationFrame(() => setTimeout(() => done(performance.now() - begun), 0));
    else requestAnimationFrame(look);
  };
  look();
})"""


def test_enter_to_a_painted_map_of_300_nodes(bench, capsys):
    bench.sign_in()
    page = bench.page
    chain = random_map(np.random.default_rng(20), NODES)
    document = json.loads((BOARDS / "garganey-8.board.json").read_text())
    nodes = [
        {
            "id": candidate.id,
            "name": candidate.name,
            "kind": "rail",
            "needs": list(candidate.needs),
            "volts": [0.9, 1.1],
        }
        for candidate in chain.nodes
    ]
    document |= {"id": "three-hundred", "name": "Three hundred", "rails": [], "startup": {"nodes": nodes}}
    document["points"] = []
    document["landmarks"] = [landmark for landmark in document["landmarks"] if landmark["kind"] != "power-plug"]
    base = bench.served.address
    token = page.request.get(f"{base}/api/v1/session").json()["csrf"]
    headers = {"X-CSRFToken": token, "Referer": base}

    def post(address, body):
        return page.request.post(f"{base}/api/v1/{address}", data=body, headers=headers)

    assert post("board-drafts/saved", {"document": document, "base": 0, "note": "300"}).ok
    address = bench.new_job("TH-1", model="three-hundred")
    number = address.rsplit("/", 1)[1]
    for name, body in (("ticks", {"point": "every input and fuse"}), ("power", {"state": "off"})):
        assert post(f"jobs/{number}/{name}", {"id": page.evaluate("crypto.randomUUID()"), **body}).ok
    assert post(f"jobs/{number}/power", {"id": page.evaluate("crypto.randomUUID()"), "state": "supply"}).ok
    page.goto(f"{address}/volts")
    taken = []
    for _ in range(READINGS):
        heading = page.get_by_test_id("volt-field").get_by_role("heading")
        node = heading.inner_text()
        page.get_by_test_id("volt-field").get_by_role("textbox").first.fill("1")
        painted = page.evaluate_handle(f"(node) => {{ window.seen = ({WATCH})(node); }}", node)
        assert painted
        page.keyboard.press("Enter")
        taken.append(page.evaluate("() => window.seen"))
        page.wait_for_function(
            "(was) => document.querySelector('[data-testid=volt-field] h2').innerText !== was", arg=node
        )
    taken.sort()
    with capsys.disabled():
        print(
            f"\nEnter to the painted map of {NODES} nodes, {READINGS} readings: "
            f"median {statistics.median(taken):.0f} ms, slowest {taken[-1]:.0f} ms (bar: median under 800 ms)"
        )
