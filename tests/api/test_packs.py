"""A library in one file over the API: out, laid beside another, taken in; nothing there is overwritten."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tests.api.conftest import BOARDS
from uvrix.core.case.usual_plan import USUAL
from uvrix.shop.config.roles import Role
from uvrix.shop.library.models import BenchPlan, BoardModel
from uvrix.shop.library.services import import_family
from uvrix.shop.ohms.models import KnownReading


@pytest.fixture
def lead(as_role):
    return as_role("lead")


@pytest.fixture
def stocked(people, teal, technician):
    """A library with a board, a family, a sheet, a reading of a good card."""
    lead = people[Role.LEAD]
    import_family((BOARDS.parent / "families/plover.family.json").read_bytes(), "plover", lead)
    watch = {"edition": 0, "watch": [{"cause": "F2 blown", "look": "beside the plug"}]}
    assert technician.put("/api/v1/board-models/teal-8/watchlist", watch).status_code == 200
    reading: dict[str, Any] = {
        "board": "teal-8",
        "card": "TG-1",
        "point": "L5",
        "to": "ground",
        "quantity": "resistance",
    }
    reading |= {"mode": "ohms", "text": "1k4", "low": 1400.0, "high": 1400.0, "source": "by hand"}
    KnownReading.objects.create(**reading, added_by=lead)
    return json.loads(technician.get("/api/v1/library-pack?shop=Lapwing").content)


def send(upload, client, address, document, **more):
    data = json.dumps(document).encode()
    return upload(address, "library.pack.json", data, client, **more)


def compared(upload, client, document):
    answer = send(upload, client, "library-pack/compared", document)
    assert answer.status_code == 200, answer.content
    return {(entry["kind"], entry["id"]): (entry["state"], entry["choice"]) for entry in answer.json()}


def test_everything_of_the_library_is_in_it_with_where_it_comes_from(stocked):
    kinds = {entry["kind"] for entry in stocked["entries"]}
    assert {"board", "family", "sheet", "plan", "known"} <= kinds
    assert {entry["from"] for entry in stocked["entries"]} == {"Lapwing"}
    assert "TL8" not in json.dumps([entry for entry in stocked["entries"] if entry["kind"] != "known"]), (
        "no job, no card"
    )


def test_laid_beside_itself_nothing_is_new(stocked, upload, technician):
    assert {state for state, _ in compared(upload, technician, stocked).values()} == {"same"}


def test_another_shops_is_taken_in_and_ours_stays_in_use(stocked, upload, lead, technician):
    theirs = json.loads(json.dumps(stocked))
    theirs["shop"] = "Bittern"
    for entry in theirs["entries"]:
        entry["from"] = "Bittern"
        if entry["kind"] == "board":
            entry["content"] = entry["content"].replace('"Teal 8"', '"Teal 8 as Bittern has it"')
        if (entry["kind"], entry["id"]) == ("plan", "usual"):
            entry["content"] = {**USUAL, "name": "Bittern's plan"}
        if entry["kind"] == "known":
            entry["content"] = {**entry["content"], "card": "BT-9", "text": "1k5", "low": 1500.0, "high": 1500.0}
            entry["id"] = "0b7e6a52-0000-5000-8000-000000000009"
    seen = compared(upload, technician, theirs)
    assert seen["board", "teal-8"] == ("differs", "both")
    assert seen["plan", "usual"] == ("differs", "both")
    assert send(upload, technician, "library-pack", theirs).status_code == 403, "the lead takes it in"
    assert send(upload, lead, "library-pack", theirs).status_code == 200
    teal = BoardModel.objects.get(slug="teal-8")
    texts = [edition.text for edition in teal.editions.order_by("number")]
    assert (len(texts), teal.name) == (3, "Teal 8"), "theirs is an edition, ours is in use"
    assert "as Bittern has it" in texts[1]
    assert teal.editions.get(number=2).note == "From Bittern"
    assert [row.content["name"] for row in BenchPlan.objects.order_by("pk")] == ["Bittern's plan", USUAL["name"]]
    assert set(KnownReading.objects.values_list("card", flat=True)) == {"TG-1", "BT-9"}
    assert KnownReading.objects.get(card="BT-9").source == "by hand, Bittern"
    # read again it changes nothing
    assert {state for state, _ in compared(upload, technician, theirs).values()} <= {"same", "known"}
    send(upload, lead, "library-pack", theirs)
    assert BoardModel.objects.get(slug="teal-8").editions.count() == 3


def test_theirs_is_taken_where_the_lead_says_so_and_left_out_where_not(stocked, upload, lead):
    theirs = json.loads(json.dumps(stocked))
    for entry in theirs["entries"]:
        if entry["kind"] == "board":
            entry["content"] = entry["content"].replace('"Teal 8"', '"Teal 8 theirs"')
        if entry["kind"] == "sheet":
            entry["content"] = {"watch": [{"cause": "U7 short"}]}
    choices = json.dumps({"board/teal-8": "take", "sheet/teal-8/watchlist": "keep"})
    assert send(upload, lead, "library-pack", theirs, choices=choices).status_code == 200
    teal = BoardModel.objects.get(slug="teal-8")
    assert (teal.name, teal.editions.count()) == ("Teal 8 theirs", 2)
    assert teal.sheets.count() == 1
    for wrong, code in (("{", "no-choices"), ('{"board/teal-8": "burn"}', "no-choices")):
        assert send(upload, lead, "library-pack", theirs, choices=wrong).json()["code"] == code
    other = send(upload, lead, "library-pack", theirs, choices='{"board/none": "take"}')
    assert other.status_code == 422


def test_one_entry_that_does_not_fit_keeps_the_whole_pack_out(stocked, upload, lead):
    theirs = json.loads(json.dumps(stocked))
    theirs["entries"].append({"kind": "board", "id": "odd-1", "content": "{}"})
    theirs["entries"].append({"kind": "recipe", "id": "odd", "content": "{}"})
    before = BoardModel.objects.count()
    refused = send(upload, lead, "library-pack", theirs)
    assert refused.status_code == 422
    assert "odd" in refused.json()["detail"]
    assert BoardModel.objects.count() == before
    assert send(upload, lead, "library-pack/compared", {"format": "other"}).json()["place"] == "$.format"
