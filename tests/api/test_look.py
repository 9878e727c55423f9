"""Look: regions, findings, photographs, overlays; entered once, taken back, never lost."""

from __future__ import annotations

import io
import json
import time
from uuid import uuid4

import pytest
from PIL import Image

from tests.api.conftest import BOARDS, PNG
from uvrix.core.boards.document import read_board
from uvrix.shop.demo.look import with_reference
from uvrix.shop.library.services import import_board
from uvrix.shop.look.models import LookFinding
from uvrix.standins.camera import Light, photograph

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())


@pytest.fixture
def look(technician, job):
    return lambda: technician.get(f"/api/v1/jobs/{job.pk}/look").json()


@pytest.fixture
def enter(technician, job):
    def send(**more):
        body = {"id": str(uuid4()), "kind": "missing-part", "side": "front", "x_mm": 100, "y_mm": 20, **more}
        return technician.post(f"/api/v1/jobs/{job.pk}/look/findings", body)

    return send


def test_regions_are_looked_at_one_by_one_and_opened_again(technician, job, look):
    regions = look()["regions"]
    assert {region["state"] for region in regions} == {"open"}
    assert len(regions) == 16
    address = f"/api/v1/jobs/{job.pk}/look/regions"
    entry = {"id": str(uuid4()), "region": regions[0]["id"], "clear": True}
    first, again = technician.post(address, entry), technician.post(address, entry)
    assert (first.status_code, again.status_code) == (201, 200)
    assert [region["state"] for region in first.json()["regions"]] == ["clear"] + ["open"] * 15
    assert first.json()["regions"][0]["by"] == "Technician"
    assert technician.get(f"/api/v1/jobs/{job.pk}").json()["looked"]["looked"] == 1
    back = technician.post(address, {"id": str(uuid4()), "region": regions[0]["id"], "clear": False})
    assert back.json()["regions"][0]["state"] == "open"
    unknown = technician.post(address, {"id": str(uuid4()), "region": "front-9-9", "clear": True})
    assert (unknown.status_code, unknown.json()["code"]) == (422, "unknown-region")


def test_a_finding_has_its_part_its_region_and_its_neighbours(enter, look, technician):
    part = next(candidate for candidate in TEAL.parts if candidate.designator == "C121")
    assert part.centre
    x, y = float(part.centre[0]), float(part.centre[1])
    answer = enter(x_mm=x + 0.5, y_mm=y - 0.4, note="Two pads, no part.")
    assert answer.status_code == 201
    found = answer.json()["findings"][0]
    assert (found["part"], found["words"], found["note"]) == ("C121", "Missing part", "Two pads, no part.")
    assert found["suspects"]
    assert "C121" not in {near["designator"] for near in found["suspects"]}
    region = next(entry for entry in answer.json()["regions"] if entry["id"] == found["region"])
    assert region["state"] == "found"
    assert region["x_mm"] <= x < region["x_mm"] + region["width_mm"]
    assert technician.post(f"/api/v1/look-findings/{found['id']}/withdrawal").json()["findings"] == []
    assert look()["findings"] == []
    assert LookFinding.objects.count() == 1, "it stays in the record"


def test_only_what_was_knocked_off_makes_its_neighbours_suspect(enter):
    burnt, gone = enter(kind="burn"), enter(kind="missing-part")
    assert burnt.json()["findings"][0]["suspects"] == []
    assert gone.status_code == 201


@pytest.mark.parametrize(
    "wrong",
    [
        {"kind": "ghost"},
        {"x_mm": None},
        {"side": "edge"},
        {"x_mm": 1e9},
        {"x_mm": None, "y_mm": None, "picture": "0" * 64, "x_px": 1, "y_px": 1},
    ],
)
def test_a_finding_that_does_not_fit_is_refused(enter, wrong):
    answer = enter(**wrong)
    assert answer.status_code in (400, 422)
    assert answer.json()["detail"]
    assert LookFinding.objects.count() == 0


def test_the_same_finding_twice_is_one_and_another_jobs_is_refused(enter, technician, people):
    from uvrix.shop.jobs.services import NewJob, open_job

    entry = str(uuid4())
    assert [enter(id=entry).status_code for _ in range(2)] == [201, 200]
    other, _ = open_job(NewJob(uuid4(), "TL8-2", "teal-8", "Ines Holt", "Snow."), people["lead"])
    body = {"id": entry, "kind": "burn", "side": "front", "x_mm": 1, "y_mm": 1}
    answer = technician.post(f"/api/v1/jobs/{other.pk}/look/findings", body)
    assert (answer.status_code, answer.json()["code"]) == (409, "id-used")


@pytest.fixture
def card(technician, job, upload):
    """Keeps a photograph of the job's card that lost a part, and says where its landmarks are."""

    def send(part):
        shot = photograph(TEAL, 6.0, 1.0, light=Light(lamp=0.8, seed=9), without=(part,))
        picture = upload("pictures", "front.jpg", shot.jpeg).json()
        body = {"id": str(uuid4()), "sha256": picture["sha256"], "side": "front"}
        kept = technician.post(f"/api/v1/jobs/{job.pk}/photographs", body)
        assert kept.status_code == 201
        return kept.json()["id"], shot

    return send


LANDMARKS = [(230.0, 98.0), (230.0, 14.0), (70.0, 70.0)]


def test_a_photograph_is_laid_over_the_models_reference(technician, people, card, look):
    import_board(with_reference((BOARDS / "teal-8.board.json").read_bytes(), people["lead"]), "teal-8", people["lead"])
    from uvrix.core.boards.photograph import photograph_from

    document = technician.get("/api/v1/board-models/teal-8/file").json()
    reference = photograph_from(document["photographs"][0])
    entry, shot = card("C121")
    body = {"reference": [reference.pixel(at) for at in LANDMARKS], "photograph": [shot.pixel(at) for at in LANDMARKS]}
    answer = technician.post(f"/api/v1/photographs/{entry}/overlay", body)
    assert answer.status_code == 200
    found = answer.json()
    assert (found["places"][0]["part"], found["places"][0]["what"]) == ("C121", "missing")
    a, b, c, d, e, f = found["matrix"]
    for at in LANDMARKS:
        x, y = shot.pixel(at)
        assert (a * x + c * y + e, b * x + d * y + f) == pytest.approx(reference.pixel(at), abs=2)
    assert look()["photographs"][0]["landmarks"]["reference"] == [pytest.approx(point) for point in body["reference"]]
    line = {**body, "photograph": [[0, 0], [1, 1], [2, 2]]}
    refused = technician.post(f"/api/v1/photographs/{entry}/overlay", line)
    assert refused.status_code == 422
    assert "triangle" in refused.json()["detail"]


def test_without_a_reference_that_is_said(technician, card):
    entry, _ = card("C121")
    body = {"reference": LANDMARKS, "photograph": LANDMARKS}
    answer = technician.post(f"/api/v1/photographs/{entry}/overlay", body)
    assert (answer.status_code, answer.json()["code"]) == (409, "no-reference")


def test_a_board_not_drawn_yet_has_no_regions_and_takes_findings_on_its_photograph(technician, upload):
    slug = technician.post("/api/v1/unknown-boards", {"name": "Pochard 8"}).json()["slug"]
    body = {"entry": str(uuid4()), "serial": "PC8-1", "board_model": slug, "customer": "Ines", "complaint": "Snow."}
    number = technician.post("/api/v1/jobs", body).json()["number"]
    assert technician.get(f"/api/v1/jobs/{number}/look").json()["regions"] == []
    sha256 = upload("pictures", "front.png", PNG).json()["sha256"]
    spot = {"id": str(uuid4()), "kind": "burn", "side": "front", "picture": sha256, "x_px": 12, "y_px": 8}
    found = technician.post(f"/api/v1/jobs/{number}/look/findings", spot).json()["findings"][0]
    assert (found["x_mm"], found["x_px"], found["region"]) == (None, 12, None)
    document = json.loads((BOARDS / "teal-8.board.json").read_text()) | {"id": slug, "name": "Pochard 8"}
    entry = {"side": "front", "sha256": sha256, "width_px": 30, "height_px": 20, "x_mm": 0, "y_mm": 100}
    document["photographs"] = [{**entry, "mm_per_px": 2.0, "turn_deg": 0}]
    assert technician.post("/api/v1/board-drafts/saved", {"document": document, "base": 0}).status_code == 201
    moved = technician.get(f"/api/v1/jobs/{number}/look").json()["findings"][0]
    assert (moved["x_mm"], moved["y_mm"]) == (24, 84)
    assert moved["region"]


def test_look_is_read_in_a_fixed_number_of_queries(technician, job, enter, upload, django_assert_max_num_queries):
    address = f"/api/v1/jobs/{job.pk}/look"
    technician.get(address)
    for number in range(6):
        enter(x_mm=10 + 30 * number)
        picture = upload("pictures", "a.png", PNG).json()
        kept = {"id": str(uuid4()), "sha256": picture["sha256"]}
        technician.post(f"/api/v1/jobs/{job.pk}/photographs", kept)
    with django_assert_max_num_queries(9):
        assert len(technician.get(address).json()["findings"]) == 6


@pytest.fixture
def phone(technician, job, as_role):
    """A phone that joined the job: signed in as nobody."""
    answer = technician.post(f"/api/v1/jobs/{job.pk}/phone-pass", {"origin": "http://testserver:8000"})
    assert answer.status_code == 201
    assert answer.json()["address"].startswith("http://testserver:8000/phone/")
    return as_role(None), f"phone/{answer.json()['address'].rsplit('/', 1)[1]}"


def test_a_phone_sends_photographs_and_reads_nothing(phone, upload, look, job):
    nobody, address = phone
    assert nobody.get(f"/api/v1/{address}").json() == {"label": f"J-{job.pk:04}", "practice": False}
    entry = str(uuid4())
    sent = [upload(address, "phone.png", PNG, nobody, id=entry, side="back").status_code for _ in range(2)]
    assert sent == [201, 200]
    kept = look()["photographs"]
    assert [(item["side"], item["note"], item["by"]) for item in kept] == [("back", "From a phone.", "Technician")]
    assert nobody.get(f"/api/v1/pictures/{kept[0]['sha256']}").status_code == 401
    assert nobody.get(f"/api/v1/jobs/{job.pk}/look").status_code == 401
    assert upload(address, "x.png", b"no picture", nobody, id=str(uuid4())).status_code == 422


def test_a_phone_enters_readings_in_the_name_of_who_let_it_in(phone, as_role, technician, job):
    nobody, address = phone
    readings = f"/api/v1/{address}/readings"
    told = nobody.get(readings).json()
    assert told["next"] == told["route"][0]
    entry = {"id": str(uuid4()), "point": told["next"], "quantity": "resistance", "value": "9k1"}
    assert nobody.post(readings, entry).json()["code"] == "not-off"
    entry["unplugged"] = True
    assert [nobody.post(readings, entry).status_code for _ in range(2)] == [201, 200]
    stored = technician.get(f"/api/v1/jobs/{job.pk}/ohms").json()["readings"]
    assert technician.get(f"/api/v1/jobs/{job.pk}/ohms").json()["power"]["state"] == "off"
    assert [(item["point"], item["by"]) for item in stored] == [(entry["point"], "Technician")]
    again = nobody.get(readings).json()
    assert again["next"] == again["route"][1]
    assert nobody.post(readings, {**entry, "id": str(uuid4()), "value": "much"}).json()["code"] == "no-value"
    link = as_role("front-desk").post(f"/api/v1/jobs/{job.pk}/phone-pass", {"origin": "http://testserver"})
    desk = link.json()["address"].rsplit("/", 1)[1]
    assert nobody.get(f"/api/v1/phone/{desk}").status_code == 200
    assert nobody.get(f"/api/v1/phone/{desk}/readings").status_code == 403
    assert nobody.get("/api/v1/phone/none/readings").status_code == 410


def test_a_phones_link_runs_out_and_cannot_be_made_up(phone, upload, job, monkeypatch):
    nobody, address = phone
    assert nobody.get(f"/api/v1/{address}x").status_code == 410
    assert nobody.get("/api/v1/phone/none").status_code == 410
    now = time.time()
    with monkeypatch.context() as later:
        later.setattr("django.core.signing.time.time", lambda: now + 21 * 60)
        assert nobody.get(f"/api/v1/{address}").status_code == 410
        assert upload(address, "a.png", PNG, nobody, id=str(uuid4())).json()["code"] == "pass-over"
    job.refresh_from_db()
    job.closed_at = job.opened_at
    job.save()
    assert nobody.get(f"/api/v1/{address}").status_code == 410


@pytest.mark.parametrize("origin", ["javascript:alert(1)", "http://a b", "ftp://x", "http://x/y", ""])
def test_a_code_leads_only_to_a_server(technician, job, origin):
    assert technician.post(f"/api/v1/jobs/{job.pk}/phone-pass", {"origin": origin}).status_code == 400


def test_a_photograph_is_straightened_into_a_new_one(technician, job, upload):
    shot = photograph(TEAL, 3.0, 6.0)
    kept = keep(technician, job, upload, shot.jpeg)
    corners = [list(shot.pixel(at)) for at in ((0, 104), (236, 104), (236, 0), (0, 0))]
    body = {"id": str(uuid4()), "corners": corners}
    address = f"/api/v1/photographs/{kept}/straightened"
    answer = technician.post(address, body)
    assert answer.status_code == 201
    old, new = answer.json()["photographs"]
    assert (new["made_from"], new["side"], old["id"]) == (kept, "front", kept)
    assert new["width_px"] / new["height_px"] == pytest.approx(236 / 104, rel=0.01)
    assert technician.post(address, body).status_code == 200
    refused = technician.post(address, {"id": str(uuid4()), "corners": corners[::-1]})
    assert (refused.status_code, refused.json()["code"]) == (422, "refused-file")


def test_a_finding_keeps_its_photographs_each_with_what_it_was_taken_before(technician, job, upload, look, enter):
    kept = keep(technician, job, upload, photograph(TEAL, 2.0).jpeg, before="U15")
    assert enter(photographs=[kept]).status_code == 201
    found = look()
    assert (found["photographs"][0]["finding"], found["photographs"][0]["before"]) == (
        found["findings"][0]["id"],
        "U15",
    )


def test_a_small_picture_is_made_once(technician, job, upload):
    picture = upload("pictures", "board.jpg", photograph(TEAL, 4.0).jpeg).json()
    for _ in range(2):
        small = technician.get(f"/api/v1/pictures/{picture['sha256']}?small=1")
        with Image.open(io.BytesIO(b"".join(small))) as seen:
            assert max(seen.size) == 480


def keep(technician, job, upload, jpeg, **more):
    """A photograph of the front, kept with the job; its id."""
    picture = upload("pictures", "front.jpg", jpeg).json()
    body = {"id": str(uuid4()), "sha256": picture["sha256"], "side": "front", **more}
    return technician.post(f"/api/v1/jobs/{job.pk}/photographs", body).json()["id"]
