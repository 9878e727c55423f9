"""Sweeps, fuses, the hunt for a short and reference cards, as entered."""

from __future__ import annotations

import io
from uuid import uuid4

import pytest
from PIL import Image

from tests.api.conftest import BOARDS, PNG
from uvrix.core.boards.document import read_board
from uvrix.core.virtual.card import Spot
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.ohms.models import KnownReading
from uvrix.shop.ohms.services import import_known
from uvrix.standins.thermal import MARGIN_MM, PX_PER_MM, thermal

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())
KNOWN = BOARDS.parent / "known/teal-8.known.csv"
GOOD = {"C12": "9k1", "PL1": "8k9", "PL2": "9k3", "C41": "645", "L5": "1k46", "L7": "119", "L8": "31", "L9": "42"}


@pytest.fixture
def bench(technician, job, people):
    """Posts to the job as a technician; the card is off and the library knows the model."""
    import_known(KNOWN.read_bytes(), KNOWN.name, people[Role.LEAD])

    def post(address, **body):
        return technician.post(f"/api/v1/jobs/{job.pk}/{address}", {"id": str(uuid4()), **body})

    assert post("power", state="off").status_code == 201
    return post


@pytest.fixture
def read(technician, job, bench):
    def enter(point, value, **more):
        body = {"point": point, "quantity": "resistance", "value": value, "mode": "ohms", "sure": True, **more}
        answer = bench("readings", **body)
        assert answer.status_code == 201, answer.content
        found = technician.get(f"/api/v1/jobs/{job.pk}/ohms").json()
        assert found["readings"][-1] == answer.json(), "what is said at once is what stands later"
        return found

    return enter


@pytest.fixture
def shorts(technician, job):
    return lambda: technician.get(f"/api/v1/jobs/{job.pk}/shorts").json()


def test_the_leads_of_a_meter_are_taken_off_ohms_and_a_later_reading_corrects(technician, job, read):
    technician.put("/api/v1/meters", {"name": "meter one", "lead_ohms": 0.2})
    found = read("L1", "0R55", meter="meter one", polarity="black")["readings"][-1]
    assert (found["text"], found["lead_ohms"]) == ("0R55", 0.2)
    assert found["low"] == pytest.approx(0.35)
    assert found["verdict"] == "within"
    assert read("F1", "0R1", meter="meter one")["readings"][-1]["low"] == 0.0
    assert read("L1", "OL", meter="meter one")["readings"][-1]["low"] is None
    diode = read("L7", "0.41", quantity="diode", mode="diode", meter="meter one")["readings"][-1]
    assert diode["low"] == 0.41
    again = read("L1", "0R54", meter="meter one", polarity="black")["readings"]
    assert [entry["standing"] for entry in again if entry["point"] == "L1" and entry["polarity"]] == [False, True]
    told = technician.get(f"/api/v1/jobs/{job.pk}/timeline", {"kind": "reading"}).json()
    assert told[0]["corrects"] == found["id"]
    answer = technician.post(
        f"/api/v1/jobs/{job.pk}/readings",
        {"id": str(uuid4()), "point": "L1", "quantity": "resistance", "value": "1", "mode": "ohms", "meter": "none"},
    )
    assert answer.json()["code"] == "unknown-meter"


def test_a_figure_opens_the_cards_behind_it(read):
    reference = read("L9", "42")["readings"][-1]["reference"]
    assert len(reference["by_card"]) == reference["cards"] == 8
    kept = KnownReading.objects.filter(board="teal-8", point__in=["mem", "L9", "L10"])
    assert [entry["card"] for entry in reference["by_card"]] == sorted({row.card for row in kept})
    assert all(entry["shown"].endswith("Ω") for entry in reference["by_card"])


def test_a_second_pass_stands_beside_the_first(bench, read):
    read("L9", "8")
    read("L7", "119")
    begun = bench("sweeps", name="after C116 is off").json()
    assert begun["compared"]["before"] == "First pass"
    found = read("L9", "42")["compared"]
    assert [(change["point"], change["same"]) for change in found["changes"]] == [("L9", False), ("L7", None)]
    assert found["changes"][0]["says"].startswith("8 Ω became 42 Ω")


def test_a_fuse_is_not_replaced_while_its_rail_is_short(bench, read):
    found = read("F3", "OL")
    fuse = next(entry for entry in found["fuses"] if entry["point"] == "F3")
    assert fuse["state"] == "blown"
    bench("ticks", point="F3")
    early = bench("fuse-swaps", point="F3", rating="10 A")
    assert (early.status_code, early.json()["code"]) == (409, "rail-short")
    assert "was not read" in early.json()["detail"]
    read("PL2", "0R5")
    assert "behind the fuse is short" in bench("fuse-swaps", point="F3").json()["detail"]
    assert bench("fuse-swaps", point="F3", reason="To feed it at the plug, supply limited.").status_code == 201
    read("PL2", "9k3")
    swapped = bench("fuse-swaps", point="F3", rating="10 A").json()
    fuse = next(entry for entry in swapped["fuses"] if entry["point"] == "F3")
    assert (fuse["state"], fuse["swapped"]) == ("", "replaced, 10 A"), "the new one was not read yet"
    assert "F3" in {block["point"] for block in swapped["blocks"]}, "nor ticked"
    assert bench("fuse-swaps", point="L9").json()["code"] == "unknown-point"


def thermal_of(x, y, watts=0.6):
    png = thermal(TEAL, "front", [Spot("front", x, y, watts)], 3)
    wide, high = Image.open(io.BytesIO(png)).size
    edge = MARGIN_MM * PX_PER_MM
    return png, [[edge, edge], [wide - edge, edge], [wide - edge, high - edge], [edge, high - edge]]


def test_a_partial_short_is_hunted_to_its_part(technician, job, bench, read, shorts, upload):
    for point, value in GOOD.items():
        read(point, value)
    assert shorts()["step"] is None
    read("L9", "4..12")
    found = shorts()
    assert found["shorted"] == ["mem"]
    (feed,) = found["feeds"]
    assert feed["volts"] <= feed["most_v"] == 0.9
    assert feed["points"] == ["L9", "L10"]
    # stages join it to other rails and were not read across: that comes before more volts
    assert "hardly to be seen" in feed["says"]
    assert (found["step"]["do"], found["step"]["target"]) == ("read", "PL2/L9")
    read("PL2/L9", "9k3")
    found = shorts()
    assert found["step"]["do"] == "inject"
    # no stage is joined: the rail may have its own volts, and what warms is told
    (feed,) = found["feeds"]
    assert feed["most_v"] == 1.35
    assert feed["warms"]
    assert feed["lowest_v"] == 0.9, "through U75 and the other stages the core is reached"
    above = bench("injections", rail="mem", volts=1.5, amps=1).json()
    assert (above["code"], above["most_v"]) == ("above-advice", 1.35)
    meant = bench("injections", rail="mem", point="L9", volts=1.5, amps=0.1, on_purpose=True).json()
    assert meant["injections"][-1]["advised_v"] == 1.35
    timeline = technician.get(f"/api/v1/jobs/{job.pk}/timeline").json()
    assert any("Fed 1.5 V, 0.1 A into mem, above the 1.35 V advised." in entry["words"] for entry in timeline)
    cold = {"id": str(uuid4()), "side": "", "x_mm": 0, "y_mm": 0}
    nothing = technician.post(f"/api/v1/injections/{meant['injections'][-1]['id']}/glows", cold).json()
    assert (nothing["near"], nothing["injections"][-1]["glows"][-1]["side"]) == ([], "")
    assert bench("injections", rail="mem", point="L1", volts=0.5, amps=1).json()["code"] == "unknown-point"
    assert bench("injections", rail="none", volts=0.5, amps=1).json()["code"] == "unknown-rail"
    fed = bench("injections", rail="mem", point="L9", volts=0.5, amps=0.06, wire=True).json()["injections"][-1]
    assert fed["ohms"] == pytest.approx(8.33, rel=0.01)
    assert fed["watts"] == pytest.approx(0.03)
    owed = technician.get(f"/api/v1/jobs/{job.pk}/owed").json()
    assert "An injection lead is still on L9: unsolder it." in [debt["words"] for debt in owed]
    png, corners = thermal_of(198.7, 66.7)
    picture = upload("pictures", "warm.png", png).json()["sha256"]
    body = {"id": str(uuid4()), "side": "front", "picture": picture, "corners": corners}
    thermal = technician.post(f"/api/v1/injections/{fed['id']}/thermals", body).json()["injections"][-1]["thermals"][-1]
    assert (thermal["x_mm"], thermal["y_mm"]) == (pytest.approx(198.7, abs=2), pytest.approx(66.7, abs=2))
    crooked = {**body, "id": str(uuid4()), "corners": corners[::-1]}
    assert technician.post(f"/api/v1/injections/{fed['id']}/thermals", crooked).status_code in {400, 422}
    glow = {"id": str(uuid4()), "side": "front", "x_mm": thermal["x_mm"], "y_mm": thermal["y_mm"]}
    found = technician.post(f"/api/v1/injections/{fed['id']}/glows", glow).json()
    assert found["near"][0]["designator"] == "C116"
    # the lead that was soldered on makes the pair's reading untrue
    assert (found["step"]["do"], found["step"]["target"]) == ("read", "PL2/L9")
    read("PL2/L9", "9k3")
    found = shorts()
    assert (found["step"]["do"], found["step"]["target"]) == ("remove", "C116")
    assert bench("taken-off", part="none").json()["code"] == "unknown-part"
    found = bench("taken-off", part="C116").json()
    assert (found["step"]["do"], found["step"]["target"]) == ("read", "L9")
    assert bench("taken-off", part="C116").json()["code"] == "does-not-fit"
    assert "C116" in [entry["part"] for entry in technician.get(f"/api/v1/jobs/{job.pk}/owed").json()]
    read("L9", "42")
    assert (shorts()["step"]["do"], shorts()["step"]["target"]) == ("swap", "C116"), "the short left with it"
    assert shorts()["on_again"] == []
    promise = next(
        entry["key"] for entry in technician.get(f"/api/v1/jobs/{job.pk}/owed").json() if entry["part"] == "C116"
    )
    bench("settled", key=promise, same=True)
    fitted = shorts()
    assert (fitted["step"], fitted["on_again"]) == (None, [fitted["off"][0]["id"]])
    assert bench("taken-off", part="C116").status_code == 201, "what is on again can come off again"
    told = [entry["words"] for entry in technician.get(f"/api/v1/jobs/{job.pk}/timeline").json()]
    assert "C116 removed for a short on mem." in told


def test_joined_rails_name_what_may_be_dead_and_a_cut_leaves_a_phase_empty(bench, read, shorts):
    for point, value in GOOD.items():
        read(point, value)
    read("PL2", "0R5")
    read("L3", "0R35")
    assert shorts()["killed"] == []
    read("PL2/L3", "0R15")
    found = shorts()
    assert found["killed"][0]["says"].startswith("U73 or U74 may have put")
    assert found["step"]["do"] == "inject"
    assert {proof["designator"]: proof["pair"] for proof in found["proofs"]}["U73"] == "PL2/L3"
    cut = bench("cut-outs", rail="core", places=["U73"], note="Two layers deep.").json()
    assert cut["empty"][0]["says"].startswith("core: 3 of 4 phases are left")
    assert bench("cut-outs", rail="none", places=["U73"]).json()["code"] == "unknown-rail"


def test_pads_of_a_lifted_coil_tell_the_side_and_are_not_the_rail(bench, read, shorts):
    read("L9", "42")
    read("L9", "0R4", condition=["coil lifted", "converter pad"])
    found = read("L9", "40", condition=["coil lifted", "rail pad"])
    assert [reading["standing"] for reading in found["readings"]] == [False, True, True], (
        "lifting made the first one untrue"
    )
    (side,) = shorts()["sides"]
    assert (side["coil"], side["side"]) == ("L9", "converter")
    assert shorts()["shorted"] == [], "a pad is not the rail as it will be powered"


def test_nothing_is_injected_into_a_powered_card(technician, job, bench, read):
    for point, value in GOOD.items():
        read(point, value)
    for fuse in ("F1", "F2", "F3"):
        bench("ticks", point=fuse)
    assert bench("power", state="supply", plugs_in=True).status_code == 201
    assert bench("injections", rail="mem", volts=0.5, amps=1).json()["code"] == "not-off"


def test_a_good_card_is_captured_whole_with_photographs(technician, teal, upload, job, bench):
    address = "/api/v1/board-models/teal-8/reference-cards"
    begun = {"id": str(uuid4()), "card": "TG-77", "note": "Proven for a week."}
    card = technician.post(address, begun).json()
    assert card["route"][0] in {point.id for point in TEAL.points}
    assert technician.post(address, {**begun, "id": str(uuid4())}).json()["code"] == "captured"
    assert technician.post(address, begun).status_code == 201, "the same entry twice is one"
    one = f"/api/v1/reference-cards/{card['id']}"

    def capture(point, value, **more):
        body = {"id": str(uuid4()), "point": point, "quantity": "resistance", "value": value, "mode": "ohms", **more}
        return technician.post(one, body)

    assert capture("L9", "43").json()["readings"][-1]["text"] == "43"
    assert capture("F1", "0R03").json()["readings"][-1]["to"] == "across"
    assert capture("X1", "1").json()["code"] == "unknown-point"
    assert capture("L9", "nothing").json()["code"] == "no-value"
    corrected = capture("L9", "42").json()["readings"]
    assert [row["text"] for row in corrected if row["point"] == "L9"] == ["42"]
    assert KnownReading.objects.filter(card="TG-77", point="L9").count() == 2, "the wrong one stays in the record"
    sha256 = upload("pictures", "front.png", PNG).json()["sha256"]
    kept = technician.post(f"{one}/photographs", {"side": "front", "picture": sha256}).json()
    assert kept["photographs"] == [{"side": "front", "picture": sha256}]
    said = bench("readings", point="L9", quantity="resistance", value="42", mode="ohms").json()
    assert said["reference"]["cards"] == 9


def test_a_past_card_that_read_alike_says_what_it_had(technician, job, bench, read, people):
    past = open_job(NewJob(uuid4(), "TL8-2", "teal-8", "Ansel Roe", "Dead."), people[Role.FRONT_DESK])[0]
    other = open_job(NewJob(uuid4(), "TL8-3", "teal-8", "Ansel Roe", "Dead too."), people[Role.FRONT_DESK])[0]
    told = {past: ("U73 joined", {"PL2": "0R5"}), other: ("C128 short", {"L9": "0R4"})}
    for candidate, (cause, odd) in told.items():
        technician.post(f"/api/v1/jobs/{candidate.pk}/power", {"id": str(uuid4()), "state": "off"})
        for point, value in {**GOOD, **odd}.items():
            body = {"point": point, "quantity": "resistance", "value": value, "mode": "ohms", "sure": True}
            technician.post(f"/api/v1/jobs/{candidate.pk}/readings", {"id": str(uuid4()), **body})
        said = {"id": str(uuid4()), "cause": cause, "state": "confirmed", "by_what": "gone with it", "step": "ohms"}
        assert technician.post(f"/api/v1/jobs/{candidate.pk}/hypotheses", said).status_code == 201

    def alike():
        return technician.get(f"/api/v1/jobs/{job.pk}/alike").json()

    for point, value in GOOD.items():
        read(point, value)
    assert alike() == [], "a healthy card is like no broken one"
    read("PL2", "0R6")
    found = alike()
    assert [entry["job"] for entry in found] == [past.label]
    assert found[0]["had"] == [{"cause": "U73 joined", "by_what": "gone with it"}]
    assert found[0]["agree"] == ["in12b"]


def test_a_rail_short_in_diode_mode_alone_is_hunted_without_an_ohm_reading(
    technician, job, bench, read, shorts, people
):
    rows = "board,card,point,quantity,value,unit,mode,meter\n"
    rows += "".join(f"teal-8,DG-{number},L7,diode,41{number}m,V,diode,one\n" for number in range(4))
    import_known(rows.encode(), "diode.csv", people[Role.LEAD])
    read("L7", "2m", quantity="diode", mode="diode")
    found = shorts()
    assert found["shorted"] == ["1v8"]
    assert found["feeds"][0]["shown"] == "not read in ohms"
    assert (found["step"]["do"], found["step"]["target"]) == ("read", "L7"), "in ohms, before anything is fed"
