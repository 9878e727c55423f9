"""What an act made untrue stands struck through at Ohms, is asked for again, and counts nowhere until it is read."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.test_shorts import GOOD
from tests.api.test_stock import take


@pytest.fixture
def bench(technician, job):
    def post(room, **body):
        return technician.post(f"/api/v1/jobs/{job.pk}/{room}", {"id": str(uuid4()), **body})

    post("power", state="off")
    return post


@pytest.fixture
def ohms(technician, job):
    return lambda: technician.get(f"/api/v1/jobs/{job.pk}/ohms").json()


@pytest.fixture
def read(bench):
    def one(point, value, **more):
        body = {"point": point, "quantity": "resistance", "value": value, "mode": "ohms", **more}
        answer = bench("readings", **body)
        assert answer.status_code == 201, answer.content
        return answer.json()

    return one


def test_a_swap_makes_what_it_touches_untrue_and_names_what_to_read_again(bench, ohms, read):
    for point, value in GOOD.items():
        read(point, value)
    for fuse in ("F1", "F2", "F3"):
        bench("ticks", point=fuse)
    assert ohms()["blocks"] == []
    swapped = bench("rework", do="swap", site="U73", no_photo="at hand", pin1="none")
    assert swapped.status_code == 201, swapped.content
    found = ohms()
    void = {reading["point"]: reading["void"] for reading in found["readings"] if reading["void"]}
    assert void
    assert all(entry["why"] == "before U73 was swapped" for entry in void.values())
    assert not any(reading["standing"] for reading in found["readings"] if reading["void"])
    assert found["again"] == [name for name in found["route"] if name in void], "in the order of the route"
    assert found["blocks"], "the inputs concerned are read again before power"
    for point in found["again"]:
        read(point, GOOD[point])
    again = ohms()
    assert again["again"] == []
    assert again["blocks"] == []
    assert [reading["point"] for reading in again["readings"] if reading["void"]] == list(void), (
        "they stay, struck through"
    )


def test_taken_back_the_act_has_made_nothing_untrue(technician, bench, ohms, read):
    for point, value in GOOD.items():
        read(point, value)
    act = bench("rework", do="renew-joint", site="U73").json()["events"][-1]["id"]
    assert ohms()["again"]
    technician.post(f"/api/v1/acts/{act}/withdrawal", {"reason": "the other card"})
    found = ohms()
    assert found["again"] == []
    assert all(reading["void"] is None for reading in found["readings"])


def test_a_new_fuse_is_not_the_one_that_was_read(bench, ohms, read):
    for point, value in GOOD.items():
        read(point, value)
    read("F1", "0R02")
    assert next(fuse for fuse in ohms()["fuses"] if fuse["point"] == "F1")["state"] == "good"
    assert bench("fuse-swaps", point="F1", rating="10 A").status_code == 201
    found = ohms()
    assert next(fuse for fuse in found["fuses"] if fuse["point"] == "F1")["state"] == ""
    assert "F1" in found["again"]


def test_an_act_of_any_screen_stands_in_the_one_history_and_the_one_report(technician, bench, read):
    for point, value in GOOD.items():
        read(point, value)
    read("L9", "0R1")
    assert bench("taken-off", part="C116").status_code == 201
    assert bench("cut-outs", rail="core", places=["U74"]).status_code == 201
    assert bench("fuse-swaps", point="F1", rating="10 A").status_code == 201
    events = bench("rework", do="drilled", site="U73").json()["events"]
    assert [(event["step"], event["do"], event["site"]) for event in events] == [
        ("ohms", "remove", "C116"), ("ohms", "cut-layers", "U74"), ("ohms", "swap", "F1"), ("rework", "drilled", "U73"),
    ]  # fmt: skip
    placed = bench("rework", do="place", site="U74", chip_in="S-1")
    assert "its layers cut out" in placed.json()["detail"]


def test_a_wrong_act_that_others_rest_on_names_them(technician, bench):
    off = bench("taken-off", part="C116")
    assert off.status_code == 201, off.content
    first = off.json()["off"][0]["id"]
    key = next(entry["key"] for entry in bench("owed", kind="other", words="Box.").json() if entry["part"] == "C116")
    assert key == f"act:{first}"
    bench("settled", key=key, same=False)
    refused = technician.post(f"/api/v1/acts/{first}/withdrawal", {"reason": "wrong"})
    assert refused.json()["code"] == "built-upon"
    assert "C116 placed" in refused.json()["detail"]


def test_a_name_that_the_model_lacks_is_declared_once_and_then_known_to_every_screen(technician, job, bench):
    refused = bench("rework", do="renew-joint", site="U999")
    assert (refused.status_code, refused.json()["code"]) == (422, "unknown-part")
    assert bench("declared-parts", designator="u14").json()["code"] == "known-part"
    body = {"designator": "U999", "kind": "gate", "side": "back", "x_mm": 40.0, "y_mm": 20.0}
    assert bench("declared-parts", **body).status_code == 201
    assert bench("declared-parts", designator="U 999").json()["code"] == "known-part", "spaces make no other part"
    assert bench("rework", do="renew-joint", site="u999").json()["events"][-1]["site"] == "U999"
    case = technician.get(f"/api/v1/jobs/{job.pk}/case").json()
    assert [entry["words"] for entry in case["entries"] if entry["act"]] == ["U999 had its joint renewed"]
    assert technician.get(f"/api/v1/jobs/{job.pk}/declared-parts").json()[0]["kind"] == "gate"


def test_case_and_spaces_do_not_make_another_part(bench):
    assert bench("rework", do="remove", site="u 14", no_photo="at hand", pin1="upper left").status_code == 201
    again = bench("rework", do="remove", site="U14", no_photo="at hand", pin1="upper left")
    assert "U14 empty" in again.json()["detail"]


def test_a_part_from_a_drawer_goes_down_by_one_and_its_label_stays(technician, bench):
    bag = take(technician, {"kind": "small", "part": "capacitor", "value": "100n"}, "tray 1", amount=2)
    for site in ("C116", "C115"):
        bench("taken-off", part=site)
        put = bench("rework", do="place", site=site, chip_in=bag, despite="the only one here")
        assert put.status_code == 201, put.content
        assert put.json()["events"][-1]["drawer"] == bag
    life = technician.get("/api/v1/stock/life", {"label": bag}).json()
    assert (life["part"]["amount"], life["part"]["where"]) == (0, "in tray 1")
    bench("taken-off", part="C114")
    empty = bench("rework", do="place", site="C114", chip_in=bag, despite="the only one here")
    assert f"no piece of {bag} left" in empty.json()["detail"]


def test_an_oven_is_a_cycle_for_every_place_and_the_customer_is_told(technician, job, bench):
    assert bench("rework", do="bake", site="U14", minutes=6).status_code == 201
    found = technician.get(f"/api/v1/jobs/{job.pk}/rework").json()
    assert found["events"][-1]["site"] == "", "it is of the whole card"
    assert {site["cycles"] for site in found["sites"]} == {1}
    assert {site["chip_cycles"] for site in found["sites"] if site["chip"]} == {1}
    report = technician.get(f"/api/v1/jobs/{job.pk}/report").json()
    assert report["done"] == ["The whole card: reflowed in an oven."]
    assert "every part of it" in report["weak"][0]
