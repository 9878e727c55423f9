"""Parcels announced, late, called off, arrived; board models suggested."""

from __future__ import annotations

from datetime import timedelta
from uuid import uuid4

from django.utils import timezone

from uvrix.shop.parcels.models import ExpectedParcel


def announced(days=0, **more):
    due = timezone.localdate() + timedelta(days=days)
    return {"id": str(uuid4()), "customer": "Ansel Roe", "due": due.isoformat(), **more}


def test_parcels_stand_in_the_order_in_which_they_are_due(as_role, teal):
    desk = as_role("front-desk")
    later, late = announced(3, board_model="teal-8", serial="TL8-9"), announced(-2, reference="KV-1")
    assert desk.post("/api/v1/parcels", later).status_code == 201
    answer = desk.post("/api/v1/parcels", late)
    assert [entry["id"] for entry in answer.json()] == [late["id"], later["id"]]
    first, second = answer.json()
    assert (first["days_late"], second["days_late"]) == (2, 0)
    assert first["events"][0]["kind"] == "announced"
    assert (second["events"], second["board_model"], first["model"]) == ([], "teal-8", "")
    assert desk.post("/api/v1/parcels", late).status_code == 200
    assert ExpectedParcel.objects.count() == 2


def test_a_parcel_becomes_its_job_once(as_role, teal):
    desk = as_role("front-desk")
    parcel = announced()
    desk.post("/api/v1/parcels", parcel)

    def opened(serial):
        body = {"entry": str(uuid4()), "serial": serial, "board_model": "teal-8", "customer": "Ansel Roe"}
        return desk.post("/api/v1/jobs", {**body, "complaint": "Dead.", "parcel": parcel["id"]})

    first = opened("TL8-1")
    assert first.status_code == 201
    assert desk.get("/api/v1/parcels").json() == []
    again = opened("TL8-2")
    assert (again.status_code, again.json()["code"]) == (409, "came-already")
    assert desk.get("/api/v1/cards/TL8-2").status_code == 404  # nothing was half opened
    gone = desk.post(f"/api/v1/parcels/{parcel['id']}/called-off", {"why": "Sent elsewhere."})
    assert gone.json()["code"] == "came-already"


def test_a_parcel_that_will_not_come_leaves_the_list_with_its_reason(as_role):
    desk = as_role("front-desk")
    parcel = announced(-9)
    desk.post("/api/v1/parcels", parcel)
    address = f"/api/v1/parcels/{parcel['id']}/called-off"
    assert desk.post(address, {"why": ""}).status_code == 400
    assert desk.post(address, {"why": "Never posted."}).json() == []
    desk.post(address, {"why": "Again."})
    assert ExpectedParcel.objects.get().why == "Never posted."
    assert desk.post(f"/api/v1/parcels/{uuid4()}/called-off", {"why": "x"}).status_code == 404
    unknown = desk.post("/api/v1/parcels", announced(board_model="none"))
    assert (unknown.status_code, unknown.json()["code"]) == (422, "unknown-model")


def test_a_board_model_is_suggested_from_what_is_on_it(as_role, teal):
    desk = as_role("front-desk")
    found = desk.post("/api/v1/board-suggestions", {"front_sites": 8, "plugs": 2, "sockets": 4}).json()
    assert (found[0]["board_model"], found[0]["name"]) == ("teal-8", "Teal 8, revision B")
    assert found[0]["differs"] == []
    assert desk.post("/api/v1/board-suggestions", {}).json() == []
    assert desk.post("/api/v1/board-suggestions", {"plugs": -1}).status_code == 400
