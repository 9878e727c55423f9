"""What is owed: promises, loans, a card taken apart; nothing leaves the list but by being done or let go."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.conftest import PNG
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import name_unknown_board

STEPS = [
    {"id": "plate", "kind": "screws", "what": "Plate screws", "count": 6},
    {
        "id": "core",
        "kind": "screws",
        "what": "Core screws",
        "places_mm": [[84, 80], [132, 80], [132, 28], [84, 28]],
        "crosswise": True,
        "side": "back",
    },
    {"id": "fan", "kind": "lead", "what": "Fan lead", "hidden": True},
]


@pytest.fixture
def recipe(technician, teal):
    return technician.put("/api/v1/board-models/teal-8/teardown", {"edition": 0, "steps": STEPS})


@pytest.fixture
def do(technician, job, recipe):
    def send(step, way, count=1, entry=None):
        body = {"id": str(entry or uuid4()), "step": step, "way": way, "count": count}
        return technician.post(f"/api/v1/jobs/{job.pk}/teardown", body)

    return send


@pytest.fixture
def owed(technician, job):
    return lambda: technician.get(f"/api/v1/jobs/{job.pk}/owed").json()


def test_a_recipe_is_kept_in_editions_and_two_savers_lose_nothing(technician, recipe):
    assert (recipe.status_code, recipe.json()["edition"]) == (200, 1)
    second = technician.put("/api/v1/board-models/teal-8/teardown", {"edition": 1, "steps": STEPS[:1]})
    assert second.json()["edition"] == 2
    late = technician.put("/api/v1/board-models/teal-8/teardown", {"edition": 1, "steps": STEPS})
    assert (late.status_code, late.json()["code"]) == (409, "saved-meanwhile")
    assert len(technician.get("/api/v1/board-models/teal-8/teardown").json()["steps"]) == 1
    twice = technician.put("/api/v1/board-models/teal-8/teardown", {"edition": 2, "steps": [STEPS[0], STEPS[0]]})
    assert (twice.status_code, twice.json()["place"]) == (422, "$.steps[1].id")


def test_what_comes_off_is_owed_until_as_much_is_back(do, owed):
    assert owed() == []
    off = do("plate", "off", 6)
    assert off.status_code == 201
    assert [step["state"] for step in off.json()["steps"]] == ["off", "on", "on"]
    assert [debt["words"] for debt in owed()] == ["Plate screws: 6 out, none back."]
    differs = do("plate", "on", 5).json()["steps"][0]
    assert (differs["state"], differs["says"]) == ("differs", "Plate screws: 6 came out, 5 went in.")
    assert owed()[0]["blocks"] is True
    assert do("plate", "on", 6).json()["steps"][0]["state"] == "on"
    assert owed() == []


def test_the_crosswise_order_comes_with_the_step(do):
    core = do("core", "off", 4).json()["steps"][1]
    assert core["order"] == [0, 2, 1, 3]


def test_a_step_sent_twice_counts_once_and_nonsense_is_refused(do, owed, technician, job):
    entry = uuid4()
    assert (do("fan", "off", 1, entry).status_code, do("fan", "off", 1, entry).status_code) == (201, 200)
    assert len(owed()) == 1
    assert do("core", "on", 4).json()["code"] == "never-off"
    assert do("nothing", "off", 1).json()["code"] == "unknown-step"
    assert do("core", "off", 100).status_code == 400


def test_a_changed_recipe_forgets_nothing_that_is_off(do, owed, technician):
    do("fan", "off")
    technician.put("/api/v1/board-models/teal-8/teardown", {"edition": 1, "steps": STEPS[:1]})
    assert [debt["words"] for debt in owed()] == ["Fan lead: off the card."]
    do("fan", "on")
    assert owed() == []


def test_a_relatives_recipe_stands_in(people, technician, recipe, teal):
    from tests.api.conftest import BOARDS
    from uvrix.shop.library.services import import_board

    other = (BOARDS / "teal-8.board.json").read_bytes().replace(b'"id": "teal-8"', b'"id": "teal-9"', 1)
    import_board(other.replace(b'"name": "Teal 8"', b'"name": "Teal 9"', 1), "teal-9", people[Role.LEAD])
    found = technician.get("/api/v1/board-models/teal-9/teardown").json()
    assert (found["edition"], found["borrowed_from"], len(found["steps"])) == (0, "Teal 8, revision B", 3)
    own = technician.put("/api/v1/board-models/teal-9/teardown", {"edition": 0, "steps": STEPS[:2]}).json()
    assert (own["edition"], own["borrowed_from"], len(own["steps"])) == (1, None, 2)


def test_a_thing_is_lent_to_one_card_at_a_time(technician, as_role, people, job, owed):
    other = open_job(NewJob(uuid4(), "TL8-2", "teal-8", "Ansel Roe", "Bare board."), people[Role.FRONT_DESK])[0]

    def lend(number, words="Test cooler 2"):
        body = {"id": str(uuid4()), "kind": "loan", "words": words}
        return as_role("front-desk").post(f"/api/v1/jobs/{number}/owed", body)

    assert lend(job.pk).status_code == 201
    twice = lend(other.pk, "test COOLER 2")
    assert (twice.status_code, twice.json()["code"], twice.json()["job"]) == (409, "lent-already", job.pk)
    key = owed()[0]["key"]
    assert settle(technician, job, key).json() == []
    assert settle(technician, job, key).json() == [], "sent again it is harmless"
    assert settle(technician, job, "none").json()["code"] == "not-owed"
    assert lend(other.pk).status_code == 201


def test_only_the_lead_lets_something_go_and_says_why(do, owed, as_role, technician, job):
    do("plate", "off", 6)
    key, address = owed()[0]["key"], f"/api/v1/jobs/{job.pk}/waivers"
    body = {"key": key, "reason": "Two are lost; the plate holds."}
    assert technician.post(address, body).status_code == 403
    assert as_role("lead").post(address, {"key": key, "reason": ""}).status_code == 400
    let_go = as_role("lead").post(address, body).json()[0]
    assert (let_go["blocks"], let_go["waived"]["reason"]) == (False, "Two are lost; the plate holds.")
    do("plate", "on", 6)
    do("plate", "off", 6)  # a new round is a new debt
    assert [debt["blocks"] for debt in owed()] == [True]
    assert as_role("lead").post(address, {"key": "none", "reason": "x"}).status_code == 404


def test_a_promise_needs_a_kind_that_is_made_by_hand(technician, job):
    body = {"id": str(uuid4()), "kind": "together", "words": "x"}
    assert technician.post(f"/api/v1/jobs/{job.pk}/owed", body).status_code == 400


def settle(client, job, key, **more):
    return client.post(f"/api/v1/jobs/{job.pk}/settled", {"id": str(uuid4()), "key": key, **more})


def finding(client, job, kind="missing-part", entry=None):
    body = {"id": str(entry or uuid4()), "kind": kind, "side": "front", "x_mm": 206.8, "y_mm": 83.0}
    return client.post(f"/api/v1/jobs/{job.pk}/look/findings", body)


def test_a_missing_part_is_owed_from_the_finding_until_it_is_taken_back_or_fitted(technician, job, owed):
    entry = uuid4()
    for _ in range(2):  # sent again after a lost answer
        part = finding(technician, job, entry=entry).json()["findings"][0]["part"]
    [one] = owed()
    assert part
    assert (one["kind"], one["part"], one["words"], one["blocks"]) == (
        "part-off", part, f"{part} is missing: fit one.", True,
    )  # fmt: skip
    assert (one["place"]["x_mm"], one["place"]["y_mm"]) == (206.8, 83.0)
    technician.post(f"/api/v1/look-findings/{entry}/withdrawal")
    assert owed() == []
    technician.post(f"/api/v1/look-findings/{entry}/withdrawal")
    finding(technician, job)
    [again] = owed()
    assert again["key"] != one["key"], "another finding is another debt"
    assert settle(technician, job, again["key"]).json() == []


@pytest.mark.parametrize("kind", ["burn", "corrosion"])
def test_what_is_only_seen_owes_nothing(technician, job, owed, kind):
    assert finding(technician, job, kind).status_code == 201
    assert owed() == []


def test_a_coil_lifted_to_measure_is_owed_once_a_point_until_it_is_refitted(technician, job, owed):
    technician.post(f"/api/v1/jobs/{job.pk}/power", {"id": str(uuid4()), "state": "off"})

    def read(point, *condition):
        body = {"id": str(uuid4()), "point": point, "quantity": "resistance", "value": "42", "mode": "ohms"}
        answer = technician.post(f"/api/v1/jobs/{job.pk}/readings", {**body, "condition": list(condition)})
        assert answer.status_code == 201

    read("L9")
    assert owed() == []
    read("L9", "coil lifted", "warm")
    read("L9", "coil lifted")
    read("L5", "coil lifted")
    assert [(debt["kind"], debt["part"]) for debt in owed()] == [("coil-lifted", "L9"), ("coil-lifted", "L5")]
    settle(technician, job, owed()[0]["key"])
    read("L9")
    assert [debt["part"] for debt in owed()] == ["L5"]
    read("L9", "coil lifted")
    assert [debt["part"] for debt in owed()] == ["L5", "L9"], "lifted again, owed again"


def test_who_waits_for_the_customer_owes_them_the_message_until_they_answer(technician, job, owed):
    def change(**changes):
        body = {"id": str(uuid4()), **changes}
        assert technician.post(f"/api/v1/jobs/{job.pk}/changes", body).status_code == 201

    change(move="customer", waits_for="whether it ever got wet")
    [one] = owed()
    assert (one["kind"], one["words"]) == ("message", "Tell Ansel Roe: whether it ever got wet")
    change(place="B7")
    change(move="customer", waits_for="whether it ever got wet, and where")
    assert len(owed()) == 1
    change(move="part", waits_for="A coil")
    assert owed() == []
    change(move="customer", waits_for="the price")
    assert [debt["words"] for debt in owed()] == ["Tell Ansel Roe: the price"]
    change(move="hands")
    assert owed() == []
    kinds = [entry["words"] for entry in technician.get(f"/api/v1/jobs/{job.pk}/timeline", {"kind": "promise"}).json()]
    assert len(kinds) == 4, "each promised and each done"


def test_no_promise_outlives_a_refusal(technician, job, owed):
    """The reading is refused, and with it what it would have owed."""
    body = {"id": str(uuid4()), "point": "L9", "quantity": "resistance", "value": "42", "mode": "ohms"}
    refused = technician.post(f"/api/v1/jobs/{job.pk}/readings", {**body, "condition": ["coil lifted"]})
    assert refused.json()["code"] == "not-off"
    unknown = technician.post(f"/api/v1/jobs/{job.pk}/look/findings", {"id": str(uuid4()), "kind": "missing-part"})
    assert unknown.status_code in {400, 422}
    no_reason = technician.post(f"/api/v1/jobs/{job.pk}/changes", {"id": str(uuid4()), "move": "customer"})
    assert no_reason.json()["code"] == "no-reason"
    assert owed() == []


def test_a_missing_part_without_a_name_is_owed_until_somebody_says_that_one_is_on(technician, people, upload):
    model = name_unknown_board("Avocet 8")
    job = open_job(NewJob(uuid4(), "AV8-1", model.slug, "Ansel Roe", "Dead."), people[Role.FRONT_DESK])[0]
    picture = upload("pictures", "front.png", PNG).json()["sha256"]
    seen = {"id": str(uuid4()), "kind": "missing-part", "side": "front", "picture": picture, "x_px": 9, "y_px": 9}
    assert technician.post(f"/api/v1/jobs/{job.pk}/look/findings", seen).status_code == 201
    [debt] = technician.get(f"/api/v1/jobs/{job.pk}/owed").json()
    assert (debt["key"], debt["part"], debt["words"]) == (f"lookfinding:{seen['id']}", "", "A part is missing: fit it.")
    assert debt["place"]["x_px"] == 9
    for _ in range(2):
        assert settle(technician, job, debt["key"]).json() == []
    assert technician.get(f"/api/v1/jobs/{job.pk}/owed").json() == []


def test_the_press_that_settles_enters_the_act_once(technician, job, owed):
    body = {"id": str(uuid4()), "kind": "coil-lifted", "words": "To tell its sides.", "part": "L5"}
    [debt] = technician.post(f"/api/v1/jobs/{job.pk}/owed", body).json()
    assert (debt["key"], debt["kind"], debt["part"]) == (f"act:{body['id']}", "coil-lifted", "L5")
    entry = {"id": str(uuid4()), "key": debt["key"]}
    for _ in range(2):  # sent again after a lost answer
        assert technician.post(f"/api/v1/jobs/{job.pk}/settled", entry).json() == []
    assert [row.do for row in job.act_rows.all()] == ["lift-coil", "fit-coil"]
    assert owed() == []


def test_what_look_found_broken_is_owed_until_it_is_set_right(technician, job, owed):
    def see(kind, x_mm, y_mm):
        body = {"id": str(uuid4()), "kind": kind, "side": "front", "x_mm": x_mm, "y_mm": y_mm}
        assert technician.post(f"/api/v1/jobs/{job.pk}/look/findings", body).status_code == 201
        return body["id"]

    see("dirt", 20, 60)
    assert owed() == []
    see("crooked-part", 158.4, 43.8)
    slip = see("fan", 118, 56)
    see("fan", 119, 56)
    words = [debt["words"] for debt in owed()]
    assert words[0] == "Crooked or cracked part at C121: set it right."
    assert sum("Fan slow" in word for word in words) == 2
    technician.post(f"/api/v1/look-findings/{slip}/withdrawal")
    assert len(owed()) == 2
    # it was set right, on whichever screen: nobody says it again
    mended = {"id": str(uuid4()), "do": "renew-joint", "site": "C121", "no_photo": "too small"}
    answer = technician.post(f"/api/v1/jobs/{job.pk}/rework", mended)
    assert answer.status_code == 201, answer.json()
    [left] = owed()
    assert "Fan slow" in left["words"]
    settled = {"id": str(uuid4()), "key": left["key"]}
    assert technician.post(f"/api/v1/jobs/{job.pk}/settled", settled).status_code in {200, 201}
    assert owed() == []


def test_paste_and_pads_are_noted_owed_while_dried_and_held_against_other_cards(technician, people, job, owed):
    def note(of=job, **entry):
        return technician.post(f"/api/v1/jobs/{of.pk}/paste-and-pads", {"id": str(uuid4()), **entry})

    assert note(way="off", cooled="core", material="paste").json()["code"] == "no-state"
    assert note(way="on", cooled="memory", material="pad").json()["code"] == "no-thickness"
    assert note(way="off", cooled="core", material="paste", state="dried").status_code == 201
    assert [debt["words"] for debt in owed()] == ["core: paste, dried or pumped out: set it right."]
    answer = note(way="on", cooled="core", material="paste", name="Fen 4")
    assert answer.json()["layers"][-1]["doubt"] == ""
    assert owed() == []
    like = open_job(NewJob(uuid4(), "TL8-LIKE", "teal-8", "Petra Quill", "Hot."), people[Role.FRONT_DESK])[0]
    note(like, way="on", cooled="memory", material="pad", thickness_mm=1.0)
    thick = note(way="on", cooled="memory", material="pad", name="Rill 6", thickness_mm=2.0).json()["layers"][-1]
    assert "another card has 1 mm" in thick["doubt"]
    report = technician.get(f"/api/v1/jobs/{job.pk}/report").json()
    assert "memory: pad Rill 6, 2 mm" in str(report)
