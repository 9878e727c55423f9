"""Board models: drafts, saving, editions, boards not drawn yet, families, placement files, packages."""

from __future__ import annotations

import io
import json
from uuid import uuid4

import pytest
from PIL import Image

from tests.api.conftest import BOARDS, PNG, ROOT
from uvrix.shop.bench.models import MemoryRun
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.services import import_board, import_family

ALONE = b"channel,errors\nA0,0\nA1,0\nB0,57\nB1,1\nC0,0\nC1,0\nD0,0\nD1,0\n"


def teal_document():
    return json.loads((BOARDS / "teal-8.board.json").read_text())


@pytest.fixture
def edit(technician):
    def send(document, **edit):
        return technician.post("/api/v1/board-drafts", {"document": document, "edit": edit} if edit else
                               {"document": document})  # fmt: skip

    return send


@pytest.fixture
def save(technician):
    def send(document, base, note=""):
        return technician.post("/api/v1/board-drafts/saved", {"document": document, "base": base, "note": note})

    return send


def test_a_draft_comes_back_edited_drawn_and_with_its_misfits(edit):
    answer = edit(teal_document(), do="move", targets=[["sites", 0]], dx=2, dy=0).json()
    assert answer["misfits"] == []
    before = teal_document()["sites"][0]
    assert answer["document"]["sites"][0]["x_mm"] == before["x_mm"] + 2
    name = before["designator"]
    assert next(site for site in answer["drawing"]["sites"] if site["designator"] == name)
    broken = edit(teal_document(), do="set", target=["sites", 0], key="designator", value="U12").json()
    assert [misfit["place"] for misfit in broken["misfits"]]


def test_an_edit_that_does_not_fit_is_refused_with_what_was_expected(edit):
    answer = edit(teal_document(), do="paint")
    assert answer.status_code == 422
    assert "expected one of move" in answer.json()["detail"]


def test_saving_makes_an_edition_with_what_changed(technician, teal, edit, save):
    moved = edit(teal_document(), do="move", targets=[["sites", 2]], dx=1.5, dy=0).json()["document"]
    answer = save(moved, 1, "measured again")
    assert (answer.status_code, answer.json()["edition"]) == (201, 2)
    newest, first = technician.get("/api/v1/board-models/teal-8/editions").json()
    assert (newest["number"], newest["note"], first["changes"]) == (2, "measured again", [])
    assert len(newest["changes"]) == 1
    assert moved["sites"][2]["designator"] in newest["changes"][0]
    old = technician.get("/api/v1/board-models/teal-8/editions/1").json()
    assert old["document"] == teal_document()
    assert technician.get("/api/v1/board-models/teal-8/editions/9").status_code == 404


def test_nobodys_edition_is_written_over(save, teal, edit):
    moved = edit(teal_document(), do="move", targets=[["sites", 2]], dx=1, dy=0).json()["document"]
    assert save(moved, 1).status_code == 201
    other = edit(teal_document(), do="move", targets=[["sites", 3]], dx=1, dy=0).json()["document"]
    late = save(other, 1)
    assert (late.status_code, late.json()["code"], late.json()["edition"]) == (409, "edited-meanwhile", 2)
    assert save(other, 0).status_code == 409, "a new model may not take an id that is taken"


def test_a_model_that_does_not_fit_is_not_saved(save, teal):
    wrong = {**teal_document(), "core": {"designator": "U1"}}
    answer = save(wrong, 1)
    assert answer.status_code == 422
    assert BoardModel.objects.get(slug="teal-8", newest__number=1)


def test_a_corrected_model_judges_open_jobs_again(drop, technician, job, edit, save):
    run = drop("teal-8-cold.csv").json()
    assert run["located"]["finding"]["designators"] == ["U18"]
    order = teal_document()["walk"]["order"]
    swapped = list(order)
    here, there = order.index("A1"), order.index("D0")
    swapped[here], swapped[there] = order[there], order[here]
    changed = edit(teal_document(), do="walk", order=swapped).json()["document"]
    assert save(changed, 1).status_code == 201
    other = technician.get(f"/api/v1/jobs/{job.pk}").json()["located"]["finding"]["designators"]
    assert len(other) == 1
    assert other != ["U18"]
    assert technician.get(f"/api/v1/runs/{run['id']}").json()["located"]["finding"]["designators"] == other


@pytest.fixture
def undrawn(technician, people):
    """A job whose board nobody has drawn, with a report."""
    model = technician.post("/api/v1/unknown-boards", {"name": "Pochard 8"}).json()
    body = {"entry": str(uuid4()), "serial": "PC8-1", "board_model": model["slug"], "customer": "Ines Holt",
            "complaint": "Snow."}  # fmt: skip
    job = technician.post("/api/v1/jobs", body).json()
    return model, job


def send_alone(upload, job):
    return upload(f"jobs/{job['number']}/runs", "table.csv", ALONE, id=str(uuid4()))


def painted(color):
    written = io.BytesIO()
    Image.new("RGB", (30, 20), color).save(written, "PNG")
    return written.getvalue()


def test_a_photograph_taken_at_one_step_is_the_board_at_the_next(technician, undrawn, upload):
    model, job = undrawn
    address = f"/api/v1/board-models/{model['slug']}"

    def shown():
        return {
            photograph["side"]: photograph["sha256"] for photograph in technician.get(address).json()["photographs"]
        }

    def keep(color, **more):
        picture = upload("pictures", "front.png", painted(color)).json()
        body = {"id": str(uuid4()), "sha256": picture["sha256"], **more}
        assert technician.post(f"/api/v1/jobs/{job['number']}/photographs", body).status_code == 201
        return picture["sha256"]

    keep("red", side="")
    keep("blue", side="front", before="U11")
    assert shown() == {}
    whole = keep("green", side="front")
    assert shown() == {"front": whole}
    # a later one is the job's alone: what was clicked on the first stays where it lies
    keep("black", side="front")
    assert shown() == {"front": whole}


def test_a_job_of_a_board_not_drawn_yet_gives_totals_by_channel(technician, undrawn, upload):
    model, job = undrawn
    assert (model["edition"], model["sites"]) == (0, 0)
    run = send_alone(upload, job).json()
    assert run["located"]["placeless"]
    page = technician.get(f"/api/v1/jobs/{job['number']}").json()
    assert page["located"]["finding"]["designators"] == ["B0"]
    assert page["next"]["what"] == "draw-model"
    assert "channel B0" in page["next"]["why"]
    mark = {"id": str(uuid4()), "designator": "B0", "typed": "B0", "answer": ""}
    assert technician.post(f"/api/v1/jobs/{job['number']}/marks", mark).json()["code"] == "not-drawn"


def test_the_same_unknown_name_is_one_model_and_an_unlike_one_another(technician):
    names = ["Pochard 8", "pochard 8", "Pochard-8"]
    slugs = [technician.post("/api/v1/unknown-boards", {"name": name}).json()["slug"] for name in names]
    assert slugs[0] == slugs[1] != slugs[2]
    assert technician.post("/api/v1/unknown-boards", {"name": "  "}).status_code == 400


def test_a_drawn_model_places_the_finding_of_a_job_that_waited(technician, undrawn, upload, save, edit):
    model, job = undrawn
    send_alone(upload, job)
    document = {**teal_document(), "id": model["slug"], "name": "Pochard 8"}
    assert save(document, 0).status_code == 201
    page = technician.get(f"/api/v1/jobs/{job['number']}").json()
    assert not page["located"].get("placeless")
    board = edit(document).json()["drawing"]
    assert page["located"]["finding"]["designators"] == [
        site["designator"] for site in board["sites"] if site["channel"] == "B0"
    ]


def test_a_photograph_serves_as_the_board(technician, undrawn, upload):
    model, _ = undrawn
    picture = upload("pictures", "front.png", PNG).json()
    body = {"side": "front", "sha256": picture["sha256"]}
    shown = technician.post(f"/api/v1/board-models/{model['slug']}/photographs", body).json()
    assert shown["photographs"] == [{"side": "front", "sha256": picture["sha256"], "width_px": 30, "height_px": 20}]
    assert (
        technician.post(f"/api/v1/board-models/{model['slug']}/photographs", {**body, "sha256": "no"}).status_code
        == 404
    )


def test_a_proven_repair_fills_an_open_place_in(technician, people, drop, job):
    document = teal_document()
    order = document["walk"]["order"]
    document["walk"]["order"] = [None if channel == "A1" else channel for channel in order]
    import_board(json.dumps(document).encode(), "teal-8", people["lead"])
    page = technician.get("/api/v1/board-models/teal-8").json()
    assert page["open_places"] == 1
    drop("teal-8-cold.csv")
    body = {"designator": "U18", "channel": "A1"}
    assert technician.post(f"/api/v1/jobs/{job.pk}/proven-places", {**body, "designator": "U14"}).status_code == 422
    assert technician.post(f"/api/v1/jobs/{job.pk}/proven-places", {**body, "channel": "C0"}).status_code == 422
    assert technician.post(f"/api/v1/jobs/{job.pk}/proven-places", body).status_code == 201
    page = technician.get("/api/v1/board-models/teal-8").json()
    assert page["open_places"] == 0
    told = technician.get("/api/v1/board-models/teal-8/inherited").json()["learned"]
    assert [(entry["designator"], entry["channel"], entry["job"]) for entry in told] == [
        ("U18", "A1", f"J-{job.pk:04}")
    ]
    finding = technician.get(f"/api/v1/jobs/{job.pk}").json()["located"]["finding"]
    assert finding["designators"] == ["U18"]


@pytest.fixture
def plover(people):
    data = (ROOT / "data/families/plover.family.json").read_bytes()
    return import_family(data, "plover.family.json", people["lead"])[0]


@pytest.mark.usefixtures("plover")
def test_the_family_proposes_the_order_and_says_from_what(edit, teal):
    document = {**teal_document(), "id": "new", "family": "plover"}
    wanted = document.pop("walk")
    answer = edit(document, do="propose").json()
    assert answer["document"]["walk"]["order"] == wanted["order"]
    assert "Teal 8" in answer["said"]
    del document["family"]
    assert edit(document, do="propose").status_code == 422


@pytest.mark.usefixtures("plover")
def test_a_board_shows_what_it_has_from_its_family(technician, people):
    document = {**teal_document(), "family": "plover"}
    document.pop("rails", None)
    import_board(json.dumps(document).encode(), "teal-8", people["lead"])
    told = technician.get("/api/v1/board-models/teal-8/inherited").json()
    assert told["family"] == "Plover"
    assert {"rails", "startup"} <= set(told["keys"])
    assert [rail["id"] for rail in told["rails"]] == ["in12", "5v0", "1v8", "mem", "pex", "core"]
    assert told["nodes"]


@pytest.mark.usefixtures("teal")
def test_a_family_is_made_from_the_first_board_with_its_core(technician, edit):
    made = technician.post("/api/v1/board-models/teal-8/family", {"name": "Dunlin 2"})
    assert made.status_code == 201
    assert made.json()["channels"] == ["A0", "A1", "B0", "B1", "C0", "C1", "D0", "D1"]
    assert made.json()["boards"] == ["Teal 8, revision B"]
    page = technician.get("/api/v1/board-models/teal-8").json()
    assert (page["family"], page["edition"]) == ("dunlin-2", 2)
    document = {**teal_document(), "id": "new", "family": "dunlin-2"}
    wanted = document.pop("walk")["order"]
    assert edit(document, do="propose").json()["document"]["walk"]["order"] == wanted
    again = technician.post("/api/v1/board-models/teal-8/family", {"name": "Dunlin 2"})
    assert (again.status_code, again.json()["code"]) == (409, "family-known")


def test_lists_are_read_in_a_fixed_number_of_queries(demo, technician, django_assert_max_num_queries):
    technician.post("/api/v1/board-models/garganey-8/family", {"name": "Second"})
    for address in ("families", "packages", "recipes"):
        with django_assert_max_num_queries(5):
            assert technician.get(f"/api/v1/{address}").json()


def test_family_recipe_and_package_are_refused_with_their_place_and_kept_where_they_fit(technician, upload):
    assert upload("families", "x.family.json", b'{"format": "uvrix-family"}').status_code == 422
    data = (ROOT / "data/families/plover.family.json").read_bytes()
    first, again = upload("families", "p.family.json", data), upload("families", "p.family.json", data)
    assert (first.status_code, again.status_code, first.json()["edition"]) == (201, 200, 1)
    assert technician.get("/api/v1/families/plover/file").content == data
    package = (ROOT / "data/packages/fb180.csv").read_bytes()
    assert upload("packages", "fb180.csv", package).status_code == 201
    assert upload("packages", "bad.csv", b"ball,x\nA1,0\n").status_code == 422
    assert technician.get("/api/v1/packages/fb180/file").content == package
    assert technician.get("/api/v1/packages/none/file").status_code == 404


def test_a_placement_file_is_read_and_taken_in(upload, edit):
    text = b"Designator,Mid X,Mid Y,Layer,Rotation\nU1,1000mil,1000mil,Top,0\n"
    text += b"".join(
        b"M%d,%dmil,%dmil,T,90\n" % (n, 1000 + 900 * (n % 3 - 1), 1000 + 900 * (n // 3 - 1)) for n in range(9) if n != 4
    )
    found = upload("board-drafts/placement", "cpl.csv", text).json()
    assert (found["unit"], len(found["rows"]), found["unread_count"]) == ("mm", 9, 0)
    assert found["unit_why"] == "the values' own units"
    assert found["core"] == "U1"
    assert set(found["memory"]) == {f"M{n}" for n in range(9) if n != 4}
    draft = edit({}, do="placement", rows=found["rows"], memory=found["memory"], core=found["core"]).json()
    assert len(draft["document"]["sites"]) == 8
    first = draft["document"]["sites"][0]
    assert (first["designator"], first["x_mm"], first["y_mm"]) == ("M0", pytest.approx(2.54), pytest.approx(2.54))
    assert upload("board-drafts/placement", "cpl.csv", b"hello\n").status_code == 422


def test_closed_jobs_keep_their_finding(drop, technician, job, edit, save):
    drop("teal-8-cold.csv")
    job.refresh_from_db()
    job.closed_at = job.opened_at
    job.save()
    document = edit(teal_document(), do="walk", order=teal_document()["walk"]["order"][::-1]).json()["document"]
    assert save(document, 1).status_code == 201
    assert technician.get(f"/api/v1/jobs/{job.pk}").json()["located"]["finding"]["designators"] == ["U18"]
    assert MemoryRun.objects.count() == 1
