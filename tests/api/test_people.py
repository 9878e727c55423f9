"""People: roles changed by the lead alone, invitations, sessions ended from afar, passwords by the rules."""

from __future__ import annotations

import time

import pytest
from django.core.management import CommandError, call_command
from django.utils.module_loading import import_string
from django_otp.oath import TOTP
from django_otp.plugins.otp_totp.models import TOTPDevice
from rest_framework.test import APIClient

from uvrix.shop.accounts.models import User
from uvrix.shop.accounts.services import invite
from uvrix.shop.config import settings as of_the_shop
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.roles import Role

WORDS = "heron-on-the-weir-9"
# What each guess at a password is to take at least, in KiB.
LEAST_MEMORY_KIB = 64 * 1024


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


def test_each_guess_at_a_password_takes_much_memory():
    """Beside these tests, which hash weakly (conftest.py)."""
    [hasher] = [import_string(name)() for name in of_the_shop.PASSWORD_HASHERS]
    kept = hasher.decode(hasher.encode(WORDS, "salt-of-a-test"))
    assert (kept["algorithm"], kept["variety"]) == ("argon2", "argon2id")
    assert kept["memory_cost"] >= LEAST_MEMORY_KIB


def test_the_lead_changes_roles_and_the_record_says_who(as_role, people):
    lead = as_role("lead")
    changed = lead.put("/api/v1/people/technician", {"role": "front-desk"}).json()
    assert {entry["username"]: entry["role"] for entry in changed["people"]}["technician"] == "front-desk"
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
    words = [event["words"] for event in as_role("lead").get("/api/v1/people").json()["events"]]
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


@pytest.mark.django_db
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


def test_a_lost_password_is_chosen_anew_by_a_link_of_the_leads(as_role, people, client, signed_in):
    old = signed_in("technician")
    made = as_role("lead").post("/api/v1/people/technician/recovery")
    token = made.json()["path"].rpartition("/")[2]
    assert client.get(f"/api/v1/invitations/{token}").json() == {"username": "technician"}
    body = {"password": "a-new-heron-by-the-weir", "username": "somebody-else", "name": "x"}
    assert client.post(f"/api/v1/invitations/{token}", body, content_type="application/json").status_code == 201
    assert people["technician"].__class__.objects.get(username="technician").check_password(body["password"])
    assert old.get("/api/v1/shelf").status_code == 401, "whoever was signed in is not any more"
    again = client.post(f"/api/v1/invitations/{token}", body, content_type="application/json")
    assert (again.status_code, again.json()["code"]) == (410, "invitation-over")
    assert as_role("front-desk").post("/api/v1/people/lead/recovery").status_code == 403


def test_the_only_lead_gets_a_link_on_the_servers_command_line(people, capsys, client):
    call_command("recover", "lead")
    said = capsys.readouterr().out
    token = said.strip().rpartition("/")[2]
    assert client.get(f"/api/v1/invitations/{token}").json() == {"username": "lead"}
    with pytest.raises(CommandError, match="expected one of front-desk, lead, technician"):
        call_command("recover", "nobody")


@pytest.mark.parametrize(
    ("name", "status"),
    [("a/b", 422), ("Tarn", 422), ("t\u0430rn", 422), ("-tarn", 422), ("t" * 31, 422), ("", 422), ("tarn.m-2", 201)],
)
def test_names_to_sign_in_with_stand_in_addresses_and_look_like_no_other(people, client, name, status):
    body = {"username": name, "name": "Mirren Tarn", "password": WORDS}
    answer = client.post(f"/api/v1/invitations/{invite(Role.TECHNICIAN)}", body, content_type="application/json")
    assert answer.status_code == status, answer.content


def test_a_name_that_was_given_before_the_rule_can_still_be_switched_off(as_role, db):
    User.objects.create_user("a/b", password=WORDS, role="technician")
    changed = as_role("lead").put("/api/v1/people/a/b", {"is_active": False})
    assert {entry["username"]: entry["is_active"] for entry in changed.json()["people"]}["a/b"] is False


def code_of(device, *, step=0):
    made = TOTP(device.bin_key, device.step, device.t0, device.digits, device.drift)
    made.time = time.time() + step * device.step
    return f"{made.token():06d}"


def test_a_second_factor_is_asked_for_once_it_was_proven(signed_in, people, client):
    mine = signed_in("technician")
    assert mine.get("/api/v1/session/second-factor").json() == {"on": False}
    assert mine.post("/api/v1/session/second-factor", {"password": "wrong"}).json()["code"] == "wrong-password"
    made = mine.post("/api/v1/session/second-factor", {"password": WORDS}).json()
    assert made["address"].startswith("otpauth://totp/")
    assert {len(row) for row in made["code"]} == {len(made["code"])}
    device = TOTPDevice.objects.get(user=people["technician"])
    sign_in = {"username": "technician", "password": WORDS}
    assert client.post("/api/v1/session", sign_in, content_type="application/json").status_code == 200, "not proven yet"
    assert mine.put("/api/v1/session/second-factor", {"code": "000000x"}).json()["code"] == "wrong-code"
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    code = code_of(device)  # one and the same: its half minute may end while this runs
    assert mine.put("/api/v1/session/second-factor", {"code": code}).json() == {"on": True}
    asked = client.post("/api/v1/session", sign_in, content_type="application/json")
    assert (asked.status_code, asked.json()["code"]) == (400, "code-wanted")
    used = client.post("/api/v1/session", {**sign_in, "code": code}, content_type="application/json")
    assert used.json()["code"] == "wrong-code", "a code serves once"
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    fits = client.post("/api/v1/session", {**sign_in, "code": code_of(device, step=1)}, content_type="application/json")
    assert fits.status_code == 200
    assert mine.post("/api/v1/session/second-factor/end", {"password": WORDS}).json() == {"on": False}
    assert client.post("/api/v1/session", sign_in, content_type="application/json").status_code == 200
