"""A card whose board nobody has drawn: its plan, what is named on photographs, the hunt, the model that comes of it."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.conftest import small_picture
from tests.api.test_ohms import TEAL, picture, power, read, undrawn
from uvrix.core.boards.edit import BLANK
from uvrix.core.case.usual_plan import USUAL
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.standins.camera import photograph

__all__ = ["picture", "undrawn"]
SHOT = photograph(TEAL, 3.0)
PX = (SHOT.width_px, SHOT.height_px)


@pytest.fixture
def photographed(technician, undrawn, picture, upload):
    """Both sides in the model's place; the pictures by side."""
    back = upload("pictures", "back.png", small_picture()).json()["sha256"]
    sides = {"front": picture, "back": back}
    for side, sha256 in sides.items():
        body = {"id": str(uuid4()), "sha256": sha256, "side": side}
        assert technician.post(f"/api/v1/jobs/{undrawn.pk}/photographs", body).status_code in {200, 201}
    return sides


def named(client, job, name, picture, **more):
    spot = {"side": "front", "picture": picture, "x_px": 100, "y_px": 60}
    return client.post(f"/api/v1/jobs/{job.pk}/photo-points", {"id": str(uuid4()), "name": name, **spot, **more})


def ohms(client, job):
    return client.get(f"/api/v1/jobs/{job.pk}/ohms").json()


def test_the_route_is_the_plans_and_says_where_each_is_found(technician, undrawn, picture):
    page = ohms(technician, undrawn)
    assert page["route"][:4] == ["slot 12 V", "slot 3.3 V", "plug 1", "5 V"]
    assert (
        next(entry for entry in page["plan"] if entry["id"] == "slot 12 V")["usual"] == "kilohms to hundreds of kilohms"
    )
    assert all(point["picture"] is None for point in page["points"])
    assert named(technician, undrawn, "C12", picture, node="slot 12 V").status_code == 201
    assert ohms(technician, undrawn)["route"][0] == "C12", "clicked under its own name it is read by that"
    assert named(technician, undrawn, "slot 3.3 V", picture, node="slot 3.3 V").status_code == 201
    assert named(technician, undrawn, "slot 3.3 V", picture).json()["code"] == "name-taken"


def test_a_reading_is_judged_by_what_is_wrong_on_every_card(technician, undrawn):
    power(technician, undrawn)
    short = read(technician, undrawn, "slot 12 V", "0R4").json()
    assert (short["verdict"], "whatever the board" in short["why"]) == ("short", True)
    assert "kilohms" in read(technician, undrawn, "plug 1", "9k").json()["why"]
    stored = {reading["point"]: reading["verdict"] for reading in ohms(technician, undrawn)["readings"]}
    assert stored == {"slot 12 V": "short", "plug 1": "no-reference"}


def test_the_hunt_goes_by_the_photograph(technician, undrawn, picture):
    power(technician, undrawn)
    read(technician, undrawn, "slot 12 V", "0R4")
    at = f"/api/v1/jobs/{undrawn.pk}"
    hunt = technician.get(f"{at}/shorts").json()
    assert (hunt["shorted"], hunt["step"]["do"], hunt["photo_mm"]) == (["slot 12 V"], "inject", 250.0)
    fed = {"id": str(uuid4()), "rail": "slot 12 V", "volts": 0.5, "amps": 1.2}
    assert technician.post(f"{at}/injections", {**fed, "rail": "V9"}).json()["code"] == "unknown-rail"
    assert technician.post(f"{at}/injections", {**fed, "volts": 3.0}).json()["code"] == "above-advice"
    assert technician.post(f"{at}/injections", fed).status_code == 201
    glow = {"id": str(uuid4()), "side": "front", "x_mm": 50.0, "y_mm": 30.0}
    technician.post(f"/api/v1/injections/{fed['id']}/glows", glow)
    assert technician.get(f"{at}/shorts").json()["step"] is None, "it is to be looked at and named"
    # named where it warmed, by the share of the photograph's width
    scale = 250.0 / PX[0]
    named(technician, undrawn, "Q7", picture, kind="part", x_px=50.0 / scale, y_px=30.0 / scale)
    hunt = technician.get(f"{at}/shorts").json()
    assert (hunt["step"]["do"], hunt["step"]["target"]) == ("remove", "Q7")
    assert [entry["designator"] for entry in hunt["near"]] == ["Q7"]
    off = technician.post(f"{at}/taken-off", {"id": str(uuid4()), "part": "Q7"})
    assert [entry["part"] for entry in off.json()["off"]] == ["Q7"]


def test_the_start_up_map_is_the_plans_and_a_named_part_stands_in_it(technician, undrawn, picture):
    volts = technician.get(f"/api/v1/jobs/{undrawn.pk}/volts").json()
    assert volts["map_source"] == "plan"
    assert "Nobody has drawn this board" in volts["warnings"][0]
    nodes = {node["id"]: node for node in volts["nodes"]}
    assert {"slot 12 V", "5 V", "1.8 V", "core phases"} <= set(nodes)
    assert nodes["1.8 V"]["parts"] == []
    named(technician, undrawn, "U501", picture, kind="part", node="1.8 V")
    again = technician.get(f"/api/v1/jobs/{undrawn.pk}/volts").json()["nodes"]
    assert next(entry for entry in again if entry["id"] == "1.8 V")["parts"] == ["U501"]


def test_a_shop_changes_a_plan_and_a_model_chooses_one(technician, undrawn):
    plans = {entry["document"]["id"]: entry for entry in technician.get("/api/v1/bench-plans").json()}
    assert (set(plans), plans["usual"]["own"]) == ({"usual", "slot-only"}, False)
    slug = undrawn.card.model.slug
    chosen = technician.put(f"/api/v1/board-models/{slug}/plan", {"plan": "slot-only"})
    assert chosen.status_code == 200
    assert "plug 1" not in ohms(technician, undrawn)["route"]
    assert technician.put(f"/api/v1/board-models/{slug}/plan", {"plan": "none"}).json()["code"] == "no-plan"
    nodes = [{**node, "where": "Where we found it."} for node in USUAL["nodes"]]
    saved = technician.post("/api/v1/bench-plans", {"document": {**USUAL, "nodes": nodes}})
    assert saved.status_code == 201
    technician.put(f"/api/v1/board-models/{slug}/plan", {"plan": ""})
    assert ohms(technician, undrawn)["plan"][0]["where"] == "Where we found it."
    wrong = technician.post("/api/v1/bench-plans", {"document": {**USUAL, "nodes": [{"id": "a"}]}})
    assert (wrong.status_code, wrong.json()["place"].startswith("$.nodes[0]")) == (422, True)


def test_what_one_card_taught_the_next_one_knows_and_the_drawing_takes_in(technician, undrawn, picture, people):
    named(technician, undrawn, "U501", picture, kind="part", node="1.8 V")
    model = undrawn.card.model
    second = open_job(NewJob(uuid4(), "AV8-2", model.slug, "Ansel Roe", "Dead."), people[Role.FRONT_DESK])[0]
    assert "U501" in {point["name"] for point in ohms(technician, second)["points"]}
    sketch = technician.get(f"/api/v1/board-models/{model.slug}/sketch").json()
    assert [(entry["name"], entry["kind"], entry["node"]) for entry in sketch["entries"]] == [("U501", "part", "1.8 V")]
    document = {**BLANK, "id": model.slug, "name": model.name}
    side = {"do": "photograph", "side": "front", "sha256": picture, "width_px": PX[0], "height_px": PX[1]}
    drawn = technician.post("/api/v1/board-drafts", {"document": document, "edit": side}).json()["document"]
    taken = technician.post("/api/v1/board-drafts", {"document": drawn, "edit": {"do": "named", **sketch}}).json()
    assert [part["designator"] for part in taken["document"]["parts"]] == ["U501"]
    assert [node["id"] for node in taken["startup"]["nodes"]] == ["1.8 V"]


def test_the_sides_lie_over_each_other_by_three_holes(technician, undrawn, photographed):
    slug = undrawn.card.model.slug
    at = f"/api/v1/board-models/{slug}"
    assert technician.get(at).json()["behind"] is None
    front, back = [[10, 10], [500, 12], [480, 300]], [[29, 1], [2, 1], [4, 18]]
    holes = {
        "front": {"picture": photographed["front"], "px": front},
        "back": {"picture": photographed["back"], "px": back},
    }
    answer = technician.put(f"{at}/sides", holes)
    assert answer.status_code == 200, answer.content
    a, b, c, d, e, f = answer.json()["behind"]["to_back"]
    assert [a * 500 + c * 12 + e, b * 500 + d * 12 + f] == pytest.approx([2, 1])
    same = {**holes, "back": {**holes["back"], "px": [back[1], back[0], back[2]]}}
    assert technician.put(f"{at}/sides", same).status_code == 422
    # with another photograph of a side nothing is known of how they lie
    body = {"side": "front", "sha256": photographed["back"]}
    technician.post(f"{at}/photographs", body)
    assert technician.get(at).json()["behind"] is None


def test_every_part_of_both_photographs_is_looked_at(technician, undrawn, photographed):
    at = f"/api/v1/jobs/{undrawn.pk}/look"
    regions = technician.get(at).json()["regions"]
    assert {region["side"] for region in regions} == {"front", "back"}
    for region in regions:
        body = {"id": str(uuid4()), "region": region["id"], "clear": True}
        assert technician.post(f"{at}/regions", body).status_code in {200, 201}
    states = {entry["state"] for entry in technician.get(at).json()["regions"]}
    assert states == {"clear"}
    figures = technician.get(f"/api/v1/jobs/{undrawn.pk}").json()["looked"]
    assert (figures["looked"], figures["regions"]) == (len(regions), len(regions))
    other = technician.post(f"{at}/regions", {"id": str(uuid4()), "region": "front-9-9", "clear": True})
    assert other.json()["code"] == "unknown-region"
