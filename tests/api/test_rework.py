"""Rework over the API: gates before lifting, cycles across cards, debts, pads, curves, images, timers, cautions."""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from tests.api.conftest import BOARDS
from uvrix.core.rework.image_file import made_image
from uvrix.shop.acts.models import Act
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.queries import model_board
from uvrix.shop.library.services import import_package
from uvrix.shop.rework.models import CautionSeen

LIFT = {"do": "remove", "no_photo": "Bench photograph stands.", "pin1": "upper left"}
FACTS = {"bus": "256", "memory": "type G", "vendors": ["Ousel"], "core_mhz": 1500, "memory_mhz": 1750, "text": "1.02"}


@pytest.fixture
def card(people, job):
    for name in ("fb180", "cg24"):
        import_package((BOARDS.parent / f"packages/{name}.csv").read_bytes(), name, people[Role.LEAD])
    return job


@pytest.fixture
def lead(as_role):
    return as_role("lead")


@pytest.fixture
def front_desk(as_role):
    return as_role("front-desk")


@pytest.fixture
def other(people, card):
    entry = NewJob(uuid4(), "TL8-OTHER", card.card.model.slug, "Petra Quill", "Squares.")
    return open_job(entry, people[Role.FRONT_DESK])[0]


def do(client, job, **entry):
    return client.post(f"/api/v1/jobs/{job.pk}/rework", {"id": str(uuid4()), **entry})


def before(client, job, site, what="remove", **more):
    return client.get(f"/api/v1/jobs/{job.pk}/rework/before", {"site": site, "do": what, **more}).json()


def owed(client, job):
    return {(entry["kind"], entry["part"]) for entry in client.get(f"/api/v1/jobs/{job.pk}/owed").json()}


def pin1(client, job, site):
    return before(client, job, site)["pin1"]


def lift(client, job, site, **more):
    return do(client, job, **{**LIFT, "site": site, "pin1": pin1(client, job, site), **more})


def test_before_lifting_photograph_and_pin_1_are_asked(technician, card):
    assert do(technician, card, do="remove", site="U14").json()["code"] == "photo"
    corner = pin1(technician, card, "U14")
    wrong = next(name for name in ("upper left", "lower right") if name != corner)
    refused = do(technician, card, do="remove", site="U14", no_photo="None yet.", pin1=wrong)
    assert (refused.status_code, refused.json()["code"]) == (409, "pin1")
    assert corner in refused.json()["detail"]
    assert Act.objects.count() == 0
    done = do(technician, card, do="remove", site="U14", no_photo="None yet.", pin1=corner)
    assert done.status_code == 201
    assert done.json()["events"][0]["note"] == "No photograph: None yet."
    # turned, pin 1 lies elsewhere, and so it is asked
    technician.put(f"/api/v1/jobs/{card.pk}/orientation", {"side": "front", "turns": 1})
    assert pin1(technician, card, "U15") != corner


def test_a_part_with_two_ends_has_no_pin_1_and_a_chip_has(technician, card):
    none = {"do": "remove", "no_photo": "Seen.", "pin1": "none"}
    assert do(technician, card, **none, site="C116").status_code == 201
    assert do(technician, card, **none, site="U14").json()["code"] == "pin1"


def test_wear_of_a_neighbour_is_not_counted_twice(technician, lead, card):
    lead.put("/api/v1/rework-settings", {"document": {"near_mm": 20}})
    lift(technician, card, "U17")
    do(technician, card, do="place", site="U17", chip_in=f"{card.card.serial}/U17")
    near = {neighbour["designator"]: neighbour for neighbour in before(technician, card, "U16")["neighbours"]}
    assert (near["U17"]["cycles"], near["U17"]["warmed"]) == (2, 0)


def test_cycles_travel_with_a_chip_between_cards_and_both_sides_agree(technician, card, other):
    lift(technician, card, "U14")
    do(technician, card, do="reball", chip=f"{card.card.serial}/U14")
    lift(technician, other, "U11")
    placed = do(technician, other, do="place", site="U11", chip_in=f"{card.card.serial}/U14")
    assert placed.status_code == 201
    site = next(entry for entry in placed.json()["sites"] if entry["designator"] == "U11")
    assert (site["chip"], site["chip_cycles"], site["cycles"]) == (f"{card.card.serial}/U14", 3, 2)
    # it is on the other card now: it cannot come back here
    refused = do(technician, card, do="place", site="U14", chip_in=f"{card.card.serial}/U14")
    assert (refused.status_code, refused.json()["code"]) == (422, "does-not-fit")
    assert "TL8-OTHER" in refused.json()["detail"]
    here = technician.get(f"/api/v1/jobs/{card.pk}/rework").json()
    assert [entry["designator"] for entry in here["sites"] if entry["chip"] is None] == ["U14"]
    assert all(entry["chip"] != f"{card.card.serial}/U14" for entry in here["loose"])
    said = before(technician, other, "U11", "swap", chip_in="S-1")["site"]
    assert said["chip_cycles"] == 3


def test_the_same_step_sent_twice_counts_once_and_a_step_taken_back_counts_no_more(technician, card):
    entry = {"id": str(uuid4()), **LIFT, "site": "U14", "pin1": pin1(technician, card, "U14")}
    address = f"/api/v1/jobs/{card.pk}/rework"
    assert technician.post(address, entry).status_code == 201
    assert technician.post(address, entry).status_code == 200
    assert ("part-off", "U14") in owed(technician, card)
    placed = do(technician, card, do="place", site="U14", chip_in=f"{card.card.serial}/U14").json()
    assert ("part-off", "U14") not in owed(technician, card)
    lifted, put = placed["events"]
    refused = technician.post(f"/api/v1/acts/{lifted['id']}/withdrawal", {"reason": "wrong chip"})
    assert (refused.status_code, refused.json()["code"]) == (409, "built-upon")
    back = technician.post(f"/api/v1/acts/{put['id']}/withdrawal", {"reason": "not done"})
    assert [event["id"] for event in back.json()["events"]] == [lifted["id"]]
    # the promise that the place ended is owed again
    assert ("part-off", "U14") in owed(technician, card)
    technician.post(f"/api/v1/acts/{lifted['id']}/withdrawal", {"reason": "neither"})
    assert owed(technician, card) == set()
    assert Act.objects.count() == 2


def test_a_chip_that_rework_took_off_is_off_in_every_room(technician, card):
    lift(technician, card, "U14")
    chips = {
        chip["designator"]: chip["lifted"] for chip in technician.get(f"/api/v1/jobs/{card.pk}/chips").json()["chips"]
    }
    assert (chips["U14"], chips["U15"]) == (True, False)
    resumed = technician.get(f"/api/v1/jobs/{card.pk}/resume").json()
    assert any("U14 is off" in entry["words"] for entry in resumed["off"])


def test_low_melt_below_leaded_is_owed_until_it_is_flushed(technician, card):
    do(technician, card, do="renew-joint", site="C116", alloy_on="low-melt")
    assert owed(technician, card) == set()
    said = before(technician, card, "C116", "renew-joint", alloy_on="leaded")
    assert any("Flush it first" in warning for warning in said["warnings"])
    do(technician, card, do="renew-joint", site="C116", alloy_on="leaded")
    assert ("flush", "C116") in owed(technician, card)
    do(technician, card, do="flushed", site="C116")
    assert owed(technician, card) == set()


def test_what_stands_near_is_said_before_with_shields_and_wear(technician, lead, card):
    found = before(technician, card, "U16")
    near = {neighbour["designator"]: neighbour for neighbour in found["neighbours"]}
    assert near["U17"]["away_mm"] > 0
    assert found["cautions"] == ["fumes", "hot", "eyes"]
    settings = {"document": {"near_mm": 20, "shield_mm": 12, "site_cycles": 1, "chip_cycles": 1}}
    assert technician.put("/api/v1/rework-settings", settings).status_code == 403
    assert lead.put("/api/v1/rework-settings", settings).status_code == 200
    found = before(technician, card, "U16")
    assert any(neighbour["shield"] for neighbour in found["neighbours"])
    lift(technician, card, "U16", shields=["U17"])
    at = {site["designator"]: site for site in technician.get(f"/api/v1/jobs/{card.pk}/rework").json()["sites"]}
    assert (at["U17"]["warmed"], at["U16"]["cycles"]) == (0, 1)
    # what is off needs no shield
    assert "U16" not in {neighbour["designator"] for neighbour in before(technician, card, "U17")["neighbours"]}
    warned = before(technician, card, "U16", "place", chip_in=f"{card.card.serial}/U16")["warnings"]
    assert any("the shop allows 1" in entry for entry in warned)
    refused = lead.put("/api/v1/rework-settings", {"document": {"near_mm": 1, "shield_mm": 9}})
    assert refused.status_code == 422


def test_a_lot_goes_with_its_chip_and_neighbours_of_the_same_are_named(technician, lead, card, other):
    lead.put("/api/v1/rework-settings", {"document": {"near_mm": 20}})
    for site in ("U16", "U17"):
        entry = {"id": str(uuid4()), "chip": f"{card.card.serial}/{site}", "lot": "O2 2614"}
        assert technician.post(f"/api/v1/jobs/{card.pk}/lots", entry).status_code == 201
    found = before(technician, card, "U16")
    assert found["site"]["lot"] == "O2 2614"
    assert any("U17" in warning and "same lot, O2 2614" in warning for warning in found["warnings"])
    lift(technician, card, "U16")
    lift(technician, other, "U11")
    do(technician, other, do="place", site="U11", chip_in=f"{card.card.serial}/U16")
    assert before(technician, other, "U11")["site"]["lot"] == "O2 2614"


def test_a_chip_in_the_open_too_long_is_warned_of_until_it_is_baked(technician, card):
    lift(technician, card, "U14")
    Act.objects.update(at=timezone.now() - timedelta(hours=40))
    chip = f"{card.card.serial}/U14"
    (loose,) = technician.get(f"/api/v1/jobs/{card.pk}/rework").json()["loose"]
    assert (loose["chip"], round(loose["too_long_h"])) == (chip, 40)
    assert any(
        "bake it first" in warning for warning in before(technician, card, "U14", "place", chip_in=chip)["warnings"]
    )
    do(technician, card, do="baked", chip=chip)
    assert not any("bake" in warning for warning in before(technician, card, "U14", "place", chip_in=chip)["warnings"])


def test_pads_are_marked_below_chip_and_core_and_judged_by_the_shops_rule(technician, lead, card):
    address = f"/api/v1/jobs/{card.pk}/pads"
    core = technician.get(f"{address}/core").json()
    assert (core["judged"], len(core["pads"])) == ("not-surveyed", 572)
    assert core["views"]
    signals = [pad["ball"] for pad in core["pads"] if pad["pad_class"] == "signal"][:3]
    entry = {"id": str(uuid4()), "states": dict.fromkeys(signals, "torn")}
    marked = technician.post(f"{address}/core", entry)
    assert (marked.status_code, marked.json()["judged"]) == (201, "marginal")
    assert len(marked.json()["broken"]) == 3
    lead.put("/api/v1/rework-settings", {"document": {"pads": {"signals_fixable": 3}}})
    assert technician.get(f"{address}/core").json()["judged"] == "fixable"
    technician.post(f"{address}/core", {"id": str(uuid4()), "states": {signals[0]: "repaired"}})
    again = technician.get(f"{address}/core").json()
    assert next(pad for pad in again["pads"] if pad["ball"] == signals[0])["looks"] == "repaired"
    assert technician.post(f"{address}/U14", {"id": str(uuid4()), "states": {"ZZ99": "torn"}}).status_code == 422
    assert technician.get(f"{address}/C116").json()["pads"] == []


def test_a_survey_of_the_pads_is_said_in_the_cards_thread(technician, card):
    def said():
        entries = technician.get(f"/api/v1/jobs/{card.pk}/case").json()["entries"]
        return [entry["words"] for entry in entries if "ads of " in entry["words"]]

    address = f"/api/v1/jobs/{card.pk}/pads"
    board = model_board(card.card.model)
    assert board
    core = board.core.designator
    do(technician, card, do="remove", site="U14")
    assert said() == []
    pads = technician.get(f"{address}/U14").json()["pads"]
    ball = next(pad["ball"] for pad in pads if pad["pad_class"] == "signal")
    for looks, verdict in (("torn", "fixable"), ("repaired", "good")):
        technician.post(f"{address}/U14", {"id": str(uuid4()), "states": {ball: looks}})
        assert said() == [f"Pads of U14: {verdict}"]
    # the core by either name is one survey
    pads = technician.get(f"{address}/core").json()["pads"]
    for name, pad in zip(("core", core), pads, strict=False):
        technician.post(f"{address}/{name}", {"id": str(uuid4()), "states": {pad["ball"]: "grey"}})
    assert said() == ["Pads of U14: good", f"Pads of {core}: fixable"]
    # of what no ball map is known one mark says all
    assert technician.get(f"{address}/C116").json()["judged"] == "not-surveyed"
    for looks, verdict in (("torn", "fixable"), ("good", "good")):
        marked = technician.post(f"{address}/C116", {"id": str(uuid4()), "states": {"all": looks}}).json()
        assert (marked["judged"], said()[-1]) == (verdict, f"Pads of C116: {verdict}")
    whole = technician.get(f"{address}/core").json()
    assert sum(count["grey"] for count in whole["counts"]) == 2


def test_a_curve_is_held_against_its_alloy_and_a_bad_file_refused(technician, card):
    address = f"/api/v1/jobs/{card.pk}/curves"
    rows = "seconds,celsius\n" + "\n".join(f"{at},{25 + at * 0.9:.1f}" for at in range(0, 200, 5))

    def send(text, alloy="sn63pb37"):
        file = SimpleUploadedFile("log.csv", text.encode())
        return technician.post(address, {"entry": str(uuid4()), "alloy": alloy, "file": file}, format="multipart")

    (curve,) = send(rows).json()["curves"]
    assert curve["judged"] == "too-cold"
    assert curve["peak_c"] == pytest.approx(200.5)
    assert send("seconds,celsius\n1,2\n1,3\n").status_code == 422
    assert send(rows, "unobtainium").json()["code"] == "no-alloy"
    assert len(technician.get(f"/api/v1/jobs/{card.pk}/rework").json()["curves"]) == 1


def read(client, job, data, volts=1.8):
    file = SimpleUploadedFile("old.img", data)
    body = {"entry": str(uuid4()), "chip_volts": volts, "file": file}
    return client.post(f"/api/v1/jobs/{job.pk}/image-reads", body, format="multipart")


def test_the_old_image_counts_only_when_read_twice_alike_and_nothing_is_written_before(technician, card):
    old = made_image(FACTS, bytes(range(256)) * 8)
    flipped = bytearray(old)
    flipped[700] ^= 4
    assert read(technician, card, old, 3.3).json()["code"] == "chip-volts"
    first = read(technician, card, bytes(flipped)).json()
    assert first["old"] is None
    second = read(technician, card, old).json()
    assert second["old"] is None
    assert second["differ"]["differ"] == "bit-decay"
    write = {"id": str(uuid4()), "chip_volts": 1.8, "power_off": True, "result": "works"}
    address = f"/api/v1/jobs/{card.pk}/image-writes"
    sha = second["reads"][1]["sha256"]
    assert technician.post(address, {**write, "image": sha}).json()["code"] == "old-first"
    third = read(technician, card, old).json()
    assert third["old"]["sha256"] == sha
    assert third["differ"] is None
    forgot = technician.post(address, {**write, "image": sha, "power_off": False})
    assert forgot.json()["code"] == "power-off"
    done = technician.post(address, {**write, "image": sha})
    assert (done.status_code, done.json()["writes"][0]["old"]) == (201, sha)
    kept = technician.get(f"/api/v1/images/{sha}/file")
    assert kept.content == old


def test_the_store_ranks_what_fits_and_compares_with_explained_runs(technician, front_desk, card):
    old = made_image(FACTS, bytes(range(256)) * 8)
    newer = bytearray(made_image({**FACTS, "vendors": ["Ousel", "Marram"], "text": "1.07"}, bytes(range(256)) * 8))
    newer[900:940] = b"X" * 40
    for _ in range(2):
        read(technician, card, old)
    beside = b'{"format": "uvrix-image", "version": 1, "bus": "128"}'

    def store(data, facts=None):
        body = {"file": SimpleUploadedFile("new.img", data), "origin": "a good card", "model": "teal-8"}
        body |= {"facts": SimpleUploadedFile("new.image.json", facts)} if facts else {}
        return technician.post("/api/v1/images", body, format="multipart")

    assert store(bytes(newer)).status_code == 201
    assert store(b"of another bus", beside).status_code == 201
    assert store(b"bad facts", b'{"format": "uvrix-image"}').status_code == 422
    found = technician.get(f"/api/v1/jobs/{card.pk}/images").json()
    assert [entry["misfits"] == [] for entry in found["store"]] == [True, False, False]
    assert found["store"][-1]["misfits"][0].startswith("bus 128")
    one, two = found["old"]["sha256"], found["store"][1]["image"]["sha256"]
    compared = front_desk.get(f"/api/v1/images/{one}/against/{two}", {"begin": 896}).json()
    assert compared["differ"] == "other-edition"
    (text,) = [run for run in compared["runs"] if run["text_new"].startswith("XXXX")]
    assert text["says"]
    assert compared["lines"][0]["offset"] == 896
    assert compared["lines"][0]["differs"] == list(range(4, 16))


def test_timers_run_over_all_jobs_until_they_are_heard(technician, card, other):
    body = {"id": str(uuid4()), "name": "glue at B14", "timed": "curing", "minutes": 30}
    assert technician.post(f"/api/v1/jobs/{card.pk}/timers", body).status_code == 201
    soon = {"id": str(uuid4()), "name": "board", "timed": "cooling", "minutes": 0.1}
    technician.post(f"/api/v1/jobs/{other.pk}/timers", soon)
    first, second = technician.get("/api/v1/timers").json()
    assert (first["name"], first["job"], second["job_label"]) == ("board", other.pk, card.label)
    # one that was begun while the server was away has run since
    late = {"id": str(uuid4()), "name": "late", "timed": "soak", "minutes": 10}
    begun = timezone.now() - timedelta(minutes=9)
    kept = technician.post(f"/api/v1/jobs/{card.pk}/timers", {**late, "begun_at": begun.isoformat()}).json()
    (shown,) = [entry for entry in kept if entry["name"] == "late"]
    assert datetime.fromisoformat(shown["ends_at"]) < timezone.now() + timedelta(minutes=2)
    technician.post(f"/api/v1/timers/{shown['id']}/stopped")
    left = technician.post(f"/api/v1/timers/{first['id']}/stopped").json()
    assert [entry["name"] for entry in left] == ["glue at B14"]


def test_a_caution_is_asked_once_a_shift_unless_the_hazard_is_at_hand(technician, front_desk):
    for key in ("fumes", "eyes"):
        assert technician.post(f"/api/v1/cautions/{key}/seen").status_code == 200
    seen = {caution["key"]: caution["seen"] for caution in technician.get("/api/v1/cautions").json()["cautions"]}
    assert (seen["fumes"], seen["eyes"], seen["hot"]) == (True, False, False)
    assert not any(caution["seen"] for caution in front_desk.get("/api/v1/cautions").json()["cautions"])
    CautionSeen.objects.update(at=timezone.now() - timedelta(hours=11))
    assert not any(caution["seen"] for caution in technician.get("/api/v1/cautions").json()["cautions"])
    assert technician.post("/api/v1/cautions/none/seen").status_code == 404


def test_what_was_done_stands_in_the_timeline_and_the_step_line(technician, card):
    lift(technician, card, "U14", result="clean")
    (event,) = [
        entry for entry in technician.get(f"/api/v1/jobs/{card.pk}/timeline").json() if entry["kind"] == "rework"
    ]
    assert event["words"] == "U14 removed. clean"
    assert technician.get(f"/api/v1/jobs/{card.pk}").json()["measured"]["rework"] == 1


def test_a_glued_contact_starts_its_timer_and_the_customer_is_told_how_it_was_mended(technician, card):
    done = do(technician, card, do="contact-repaired", site="B38", way="glued", cures_minutes=90)
    assert done.status_code == 201
    [timer] = technician.get("/api/v1/timers").json()
    assert (timer["name"], timer["timed"]) == ("B38 cures", "curing")
    told = str(technician.get(f"/api/v1/jobs/{card.pk}/report").json())
    assert "is glued on" in told
    assert do(technician, card, do="contact-repaired", site="B39", way="sewn").status_code == 400


def test_what_moved_at_rework_is_looked_at_and_owed_until_it_is_right(technician, card):
    lift(technician, card, "U16", moved="u15, a cap beside it, and ZZ9")
    seen = technician.get(f"/api/v1/jobs/{card.pk}/look").json()["findings"]
    assert [(entry["kind"], entry["part"]) for entry in seen] == [("crooked-part", "U15")]
    assert "U15" in str(technician.get(f"/api/v1/jobs/{card.pk}/owed").json())
    do(technician, card, do="place", site="U16", chip_in=f"{card.card.serial}/U16")
    do(technician, card, do="renew-joint", site="U15")
    assert "U15" not in str(technician.get(f"/api/v1/jobs/{card.pk}/owed").json())


def test_minutes_said_at_an_act_count_where_no_clock_ran(technician, card):
    def minutes():
        return technician.get(f"/api/v1/jobs/{card.pk}/time").json()["minutes"]

    assert minutes() == 0
    lift(technician, card, "U16", minutes=25)
    assert minutes() == 25
