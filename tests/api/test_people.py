"""People: roles changed by the lead alone, invitations, sessions ended from afar, passwords by the rules."""

from __future__ import annotations

import pytest
from django.core.management import call_command
from rest_framework.test import APIClient

from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem

WORDS = "heron-on-the-weir-9"


@pytest.fixture
def signed_in(people):
    """A client signed in by name and password, as from a browser."""

    def enter(role, browser="Browser one"):
        user = people[role]
        if not user.has_usable_password():
            user.set_password(WORDS)
            user.save()
        client = APIClient(headers={"user-agent": browser})
        client.post("/api/v1/session", {"username": user.username, "password": WORDS}, format="json")
        return client

    return enter


def test_the_lead_changes_roles_and_the_record_says_who(as_role, people):
    lead = as_role("lead")
    changed = lead.put("/api/v1/people/technician", {"role": "front-desk"}).json()
    assert {one["username"]: one["role"] for one in changed["people"]}["technician"] == "front-desk"
    assert (changed["events"][0]["words"], changed["events"][0]["by"]) == ("Is front desk from now on.", "Lead")
    last = lead.put("/api/v1/people/lead", {"role": "technician"})
    assert (last.status_code, last.json()["code"]) == (409, "last-lead")
    assert lead.put("/api/v1/people/lead", {"is_active": False}).json()["code"] == "last-lead"


def test_who_is_switched_off_is_signed_out_at_once(signed_in, as_role):
    client = signed_in("technician")
    assert client.get("/api/v1/shelf").status_code == 200
    as_role("lead").put("/api/v1/people/technician", {"is_active": False})
    assert client.get("/api/v1/shelf").status_code == 401
    again = client.post("/api/v1/session", {"username": "technician", "password": WORDS}, format="json")
    assert again.status_code == 400


def test_an_invitation_is_made_by_the_lead_and_serves_once(as_role):
    made = as_role("lead").post("/api/v1/invitations", {"role": "technician"}).json()
    token = made["path"].removeprefix("/welcome/")
    entry = {"username": "wren", "name": "Wren Tide", "password": WORDS}
    public = APIClient()
    assert public.post(f"/api/v1/invitations/{token}", entry, format="json").status_code == 201
    assert public.post(f"/api/v1/invitations/{token}", entry, format="json").status_code == 410
    words = [one["words"] for one in as_role("lead").get("/api/v1/people").json()["events"]]
    assert words == ["Accepted an invitation as technician.", "Invited a technician."]


def test_sessions_are_listed_and_ended_but_only_ones_own_or_by_the_lead(signed_in, as_role):
    one, two = signed_in("technician"), signed_in("technician", "Browser two")
    listed = one.get("/api/v1/sessions").json()
    assert {(row["browser"], row["mine"]) for row in listed} == {("Browser one", True), ("Browser two", False)}
    other = next(row["id"] for row in listed if not row["mine"])
    assert as_role("front-desk").delete(f"/api/v1/sessions/{other}").status_code == 404
    assert one.delete(f"/api/v1/sessions/{other}").status_code == 204
    assert two.get("/api/v1/shelf").status_code == 401
    assert one.get("/api/v1/shelf").status_code == 200
    assert len(as_role("lead").get("/api/v1/sessions").json()) >= 2


def test_a_password_is_changed_by_the_frameworks_rules(signed_in):
    client = signed_in("technician")
    refused = client.put("/api/v1/session/password", {"old": "wrong", "new": WORDS + "x"}, format="json")
    assert refused.json()["code"] == "wrong-password"
    weak = client.put("/api/v1/session/password", {"old": WORDS, "new": "password"}, format="json")
    assert (weak.status_code, weak.json()["code"]) == (422, "weak-password")
    assert client.put("/api/v1/session/password", {"old": WORDS, "new": WORDS + "x"}, format="json").status_code == 204
    assert client.get("/api/v1/shelf").status_code == 200  # this browser stays signed in
    assert User.objects.get(username="technician").check_password(WORDS + "x")


def test_one_address_cannot_try_passwords_without_end(client, monkeypatch, settings):
    def wrong(*_, **__):
        raise Problem(400, "wrong-sign-in", "wrong")

    monkeypatch.setattr("uvrix.shop.accounts.api.sign_in", wrong)

    def tried(address):
        body = {"username": "nobody", "password": "x"}
        return client.post("/api/v1/session", body, content_type="application/json", REMOTE_ADDR=address)

    assert {tried("192.0.2.7").status_code for _ in range(60)} == {400}
    refused = tried("192.0.2.7")
    assert (refused.status_code, refused.json()["code"]) == (429, "too-many")
    assert 0 < int(refused["Retry-After"]) <= 60
    assert tried("192.0.2.8").status_code == 400, "another address is not locked out by it"
    assert client.get("/api/v1/session", REMOTE_ADDR="192.0.2.7").status_code == 200


def test_published_passwords_are_not_left_on_a_network(db, capsys):
    for name, role in (("mirren", "technician"), ("casper", "lead")):
        User.objects.create_user(name, password="heron-at-low-tide" if name == "mirren" else WORDS, role=role)
    call_command("first_start", "--network")
    (said,) = capsys.readouterr().out.splitlines()
    assert said.startswith("Demo sign-in (technician): mirren / ")
    password = said.rpartition(" / ")[2]
    assert password != "heron-at-low-tide"
    assert User.objects.get(username="mirren").check_password(password)
    assert User.objects.get(username="casper").check_password(WORDS), "whose own it is keeps it"
