"""Taking data along: everything out and in again is equal; one job likewise, also beside others; cells are safe."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import random
import zipfile
from collections import Counter
from typing import Any
from uuid import uuid4

import pytest
from django.contrib.auth.hashers import make_password
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import connection
from rest_framework.test import APIClient

from tests.api.conftest import BOARDS, PNG, close_files
from uvrix.core.errors import Refusal
from uvrix.shop.accounts.models import User
from uvrix.shop.archive.graph import models_of_a_job, rows_of_job, shop_models
from uvrix.shop.archive.reading import Archive, import_job, restore
from uvrix.shop.archive.writing import cell, write_job, write_shop
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import Customer, Job
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_board
from uvrix.shop.ohms.models import Reading


def empty(settings, folder):
    """An empty database and an empty store."""
    with connection.cursor() as cursor:
        tables = ", ".join(f'"{model._meta.db_table}"' for model in shop_models())
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
        cursor.execute(f"TRUNCATE {tables} RESTART IDENTITY CASCADE")
        cursor.execute("SET CONSTRAINTS ALL DEFERRED")
    folder.mkdir()
    settings.MEDIA_ROOT = folder


def shop_bytes():
    out = io.BytesIO()
    write_shop(out, secret=True)
    return out.getvalue()


def job_bytes(job):
    out = io.BytesIO()
    write_job(job, out)
    return out.getvalue()


def hashes(data):
    return Archive(io.BytesIO(data)).hashes


def test_the_full_demo_shop_comes_back_equal_in_every_field_and_file_and_so_does_each_kind_of_job(
    demo, settings, tmp_path
):
    before = shop_bytes()
    jobs = {serial: Job.objects.filter(card__serial=serial).latest("opened_at") for serial in SERIALS}
    singles = {serial: job_bytes(job) for serial, job in jobs.items()}
    empty(settings, tmp_path / "restored")
    assert not Job.objects.exists()
    assert restore(Archive(io.BytesIO(before))) > 700
    after = shop_bytes()
    assert hashes(after) == hashes(before)
    assert len([name for name in hashes(after) if name.startswith("files/")]) > 10
    # the next key is free
    assert User.objects.create(username="new", role=Role.TECHNICIAN).pk > 3
    with pytest.raises(Exception, match="expected an empty database"):
        restore(Archive(io.BytesIO(before)))
    for number, (serial, single) in enumerate(singles.items()):
        empty(settings, tmp_path / f"single {number}")
        job = import_job(Archive(io.BytesIO(single)))
        assert job.card.serial == serial
        after, then = told(job_bytes(job)), told(single)
        assert [row for row in after[0] if row not in then[0]] == []
        assert after == then


def told(data):
    """What an archive of a job says, whatever the numbers of the shop: rows by the order in which they came."""
    archive = Archive(io.BytesIO(data))
    rows = list(archive.rows())
    orders, counts = {}, Counter()
    for entry in rows:
        orders[entry.model, entry.pk] = counts[entry.model]
        counts[entry.model] += 1
    found = []
    for entry in rows:
        fields = dict(entry.fields)
        for field in entry.model._meta.concrete_fields:
            if field.is_relation and fields.get(field.name) is not None:
                related: Any = field.related_model
                fields[field.name] = orders[related, fields[field.name]]
        if entry.model is User:
            fields |= {"is_active": False, "role": ""}
        fields.pop("located", None)  # derived from the runs, and made anew
        found.append((entry.model.__name__, json.dumps(fields, sort_keys=True)))
    return found, sorted(name for name in archive.hashes if name.startswith("files/"))


SERIALS = ("TL8-54100", "TL8-54388", "TL8-56002", "SC24-0121", "SM6-00415")


@pytest.fixture
def filled(technician, job, drop, upload):
    """A job with a run, a photograph, a reading taken back by another, and a note that looks like a formula."""
    assert drop("teal-8-cold.csv").status_code == 201
    picture = upload("pictures", "board.png", PNG).json()["sha256"]
    body = {"id": str(uuid4()), "sha256": picture, "side": "front"}
    assert technician.post(f"/api/v1/jobs/{job.pk}/photographs", body).status_code == 201
    technician.post(f"/api/v1/jobs/{job.pk}/power", {"id": str(uuid4()), "state": "off"})
    for value in ("120", "122"):
        reading = {"id": str(uuid4()), "point": "L9", "quantity": "resistance", "value": value, "mode": "ohms"}
        assert technician.post(f"/api/v1/jobs/{job.pk}/readings", reading).status_code == 201
    technician.post(f"/api/v1/jobs/{job.pk}/timeline", {"id": str(uuid4()), "text": "=1+1", "step": "look"})
    return job


def test_a_job_comes_into_a_shop_that_has_others_under_keys_of_its_own(filled, people, settings, tmp_path):
    data = job_bytes(filled)
    number = filled.pk
    empty(settings, tmp_path / "elsewhere")
    lead = User.objects.create(username="lead", role=Role.LEAD)
    other = User.objects.create(username="somebody", role=Role.FRONT_DESK)
    import_board((BOARDS / "wigeon-4.board.json").read_bytes(), "wigeon-4.board.json", lead)
    for count in range(number + 2):
        open_job(NewJob(uuid4(), f"W-{count}", "wigeon-4", "Hale Studio", "Other."), other)
    taken = import_job(Archive(io.BytesIO(data)))
    assert taken.pk > number
    assert taken.card.serial == "TL8-1"
    assert taken.card.model.slug == "teal-8"
    assert taken.runs.count() == 1
    assert Reading.objects.filter(job=taken).count() == 2
    assert {row.by.username for row in Reading.objects.filter(job=taken).select_related("by")} == {"technician"}
    assert not User.objects.get(username="technician").has_usable_password()
    # the lead who was here already is the one meant
    assert User.objects.filter(username="lead").count() == 1
    with pytest.raises(Exception, match="is here already"):
        import_job(Archive(io.BytesIO(data)))


def test_archives_over_the_api_carry_no_passwords(as_role, filled, people):
    people[Role.TECHNICIAN].set_password("heron")
    people[Role.TECHNICIAN].save()
    assert as_role("front-desk").get(f"/api/v1/jobs/{filled.pk}/archive").status_code == 403, "firmware is in it"
    answer = as_role("technician").get(f"/api/v1/jobs/{filled.pk}/archive")
    data = b"".join(answer.streaming_content)
    close_files(answer)
    assert "pbkdf2" not in str(zipfile.ZipFile(io.BytesIO(data)).read("rows/accounts.user.jsonl"))
    lines = zipfile.ZipFile(io.BytesIO(data)).read("rows/accounts.user.jsonl").splitlines()
    rows = [json.loads(line) for line in lines]
    assert {row["fields"]["password"] for row in rows} == {"!"}
    everything = as_role("lead").get("/api/v1/archive")
    whole = b"".join(everything.streaming_content)
    close_files(everything)
    assert Archive(io.BytesIO(whole)).what == "shop"
    body = {"file": SimpleUploadedFile("job.zip", data)}
    again = as_role("lead").post("/api/v1/archives", body, format="multipart")
    assert (again.status_code, again.json()["code"]) == (409, "already-here")
    wrong = as_role("lead").post("/api/v1/archives", {"file": SimpleUploadedFile("x.zip", whole)}, format="multipart")
    assert wrong.status_code == 422


def test_tables_are_safe_in_a_spreadsheet_and_rows_are_not_changed_by_that(filled):
    archive = zipfile.ZipFile(io.BytesIO(job_bytes(filled)))
    table = list(csv.DictReader(io.StringIO(archive.read("tables/record.note.csv").decode())))
    assert table[0]["text"] == "'=1+1"
    assert json.loads(archive.read("rows/record.note.jsonl"))["fields"]["text"] == "=1+1"
    assert [cell(one) for one in ("@x", "-3", -3, 2.5, None, True, {"a": 1})] == [
        *("'@x", "'-3", "-3", "2.5", "", "True", '{"a": 1}'),
    ]


def changed(data, name, change):
    """The archive with one entry changed."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for entry in old.namelist():
            new.writestr(entry, change(old.read(entry)) if entry == name else old.read(entry))
    return out.getvalue()


def test_an_archive_that_was_changed_is_refused_by_the_entry(filled):
    data = job_bytes(filled)
    for name, change, place in (
        ("rows/jobs.job.jsonl", lambda text: text.replace(b"No picture", b"All well"), "rows/jobs.job.jsonl"),
        ("manifest.json", lambda text: text.replace(b'"version": 1', b'"version": 9'), "manifest.json"),
        ("manifest.json", lambda text: text.replace(b"rows/jobs.job", b"rows/jobs.other"), "rows/jobs.job.jsonl"),
        ("manifest.json", lambda _: b"{", "1"),
    ):
        with pytest.raises(Refusal) as refused:
            Archive(io.BytesIO(changed(data, name, change)))
        assert refused.value.place == place
    with pytest.raises(Refusal):
        Archive(io.BytesIO(b"no zip"))


def forged(data, name, lines):
    """An archive whose writer put other rows in, with hashes that agree."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        manifest = json.loads(old.read("manifest.json"))
        kept = {entry: old.read(entry) for entry in old.namelist() if entry != "manifest.json"} | {name: lines}
        manifest["sha256"] = {entry: hashlib.sha256(text).hexdigest() for entry, text in kept.items()}
        for entry, text in {**kept, "manifest.json": json.dumps(manifest).encode()}.items():
            new.writestr(entry, text)
    return out.getvalue()


def test_a_job_from_elsewhere_brings_no_sign_in_no_settings_and_no_file_outside(filled, people, settings, tmp_path):
    """Whoever writes an archive can make its hashes agree: what it may bring is decided here."""
    data = job_bytes(filled)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        rows = [json.loads(line) for line in archive.read("rows/accounts.user.jsonl").splitlines()]
    known = make_password("let-me-in")
    for row in rows:
        row["fields"] |= {"password": known, "is_superuser": True, "is_staff": True, "role": "lead"}
    doors = forged(data, "rows/accounts.user.jsonl", b"\n".join(json.dumps(row).encode() for row in rows))
    token = json.dumps({"pk": 1, "fields": {"role": "lead"}}).encode()
    with pytest.raises(Refusal) as refused:
        import_job(Archive(io.BytesIO(forged(data, "rows/accounts.invitation.jsonl", token))))
    assert refused.value.expected == "rows that belong to a job"
    for name in ("files/../../outside", "/files/outside"):
        with pytest.raises(Refusal) as refused:
            Archive(io.BytesIO(forged(data, name, b"x")))
        assert refused.value.place == name
    empty(settings, tmp_path / "careful")
    import_job(Archive(io.BytesIO(doors)))
    for person in User.objects.all():
        assert (person.has_usable_password(), person.is_superuser, person.is_staff) == (False, False, False)
        assert not person.check_password("let-me-in")
        assert (person.is_active, person.role) == (False, "")


def rows_in(data, name):
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return [json.loads(line) for line in archive.read(f"rows/{name}.jsonl").splitlines()]


def lines_of(rows):
    return b"".join(json.dumps(row).encode() + b"\n" for row in rows)


def first(rows, **fields):
    return [{**rows[0], "fields": rows[0]["fields"] | fields}, *rows[1:]]


ODD_ROWS = {
    "a board that does not parse": ("library.boardedition", lambda rows: first(rows, text='{"id": 5}')),
    "a board of another kind": ("library.boardedition", lambda rows: first(rows, text=7)),
    "a role that is none": ("jobs.job", lambda rows: first(rows, move="nobody's")),
    "a side that is none": ("look.jobphotograph", lambda rows: first(rows, side="inside", note="x" * 9000)),
    "a number too large": ("jobs.job", lambda rows: first(rows, orientation_turns=2**40)),
    "a key that is a list": ("jobs.job", lambda rows: [{**rows[0], "pk": [1]}]),
    "a job without a card": ("jobs.job", lambda rows: first(rows, card=999_999)),
    "a job without fields": ("jobs.job", lambda rows: [{**rows[0], "fields": {}}]),
    "a field that is none": ("jobs.job", lambda rows: first(rows, other=1)),
    "a NUL": ("jobs.job", lambda rows: first(rows, complaint="No\0picture.")),
    "a lone surrogate": ("jobs.job", lambda rows: first(rows, complaint="\ud800")),
    "a moment that is none": ("jobs.job", lambda rows: first(rows, opened_at="yesterday")),
    "a customer without a name": ("jobs.customer", lambda rows: [{**rows[0], "fields": {}}]),
    "a reading of nobody": ("ohms.reading", lambda rows: first(rows, by=999_999)),
    "one id twice": ("ohms.reading", lambda rows: [rows[0], rows[0]]),
    "a list for a row": ("ohms.reading", lambda rows: [[*rows[0]]]),
}


@pytest.mark.parametrize("case", ODD_ROWS)
def test_rows_that_no_shop_wrote_are_refused_and_leave_nothing(filled, settings, tmp_path, case):
    data = job_bytes(filled)
    name, change = ODD_ROWS[case]
    odd = forged(data, f"rows/{name}.jsonl", lines_of(change(rows_in(data, name))))
    empty(settings, tmp_path / "careful")
    lead = APIClient()
    lead.force_login(User.objects.create(username="here", role=Role.LEAD), "django.contrib.auth.backends.ModelBackend")
    file = SimpleUploadedFile("job.uvrix.zip", odd)
    answer = lead.post("/api/v1/archives", {"file": file}, format="multipart")
    assert answer.status_code == 422, answer.content[:300]
    assert "expected" in answer.json()["detail"]
    assert (Job.objects.count(), Reading.objects.count()) == (0, 0)
    assert lead.get("/api/v1/shelf").status_code == 200
    assert lead.get("/api/v1/board-models").status_code == 200


def test_a_customer_who_is_here_in_other_letters_is_the_one_meant(filled, settings, tmp_path):
    data = job_bytes(filled)
    name = rows_in(data, "jobs.customer")[0]["fields"]["name"]
    empty(settings, tmp_path / "careful")
    here = Customer.objects.create(name=name.upper())
    assert import_job(Archive(io.BytesIO(data))).customer_id == here.pk


def test_numbers_are_given_here(filled, settings, tmp_path):
    data = job_bytes(filled)
    job = rows_in(data, "jobs.job")
    others = {"pk": 2**62, "fields": job[0]["fields"]}
    moved = forged(data, "rows/jobs.job.jsonl", lines_of([others]))
    for name in ("ohms.reading", "bench.memoryrun", "look.jobphotograph", "record.note", "ohms.powerstate"):
        with zipfile.ZipFile(io.BytesIO(moved)) as archive:
            if f"rows/{name}.jsonl" not in archive.namelist():
                continue
        rows = [{**row, "fields": row["fields"] | {"job": 2**62}} for row in rows_in(moved, name)]
        moved = forged(moved, f"rows/{name}.jsonl", lines_of(rows))
    empty(settings, tmp_path / "careful")
    assert import_job(Archive(io.BytesIO(moved))).pk == 1
    lead = User.objects.create(username="here", role=Role.LEAD)
    assert open_job(NewJob(uuid4(), "W-1", "teal-8", "Hale Studio", "Other."), lead)[0].pk == 2


def test_an_archive_brings_no_more_than_its_rows_name_and_no_more_than_one_can_hold(
    filled, settings, tmp_path, monkeypatch
):
    data = job_bytes(filled)
    empty(settings, tmp_path / "careful")
    with pytest.raises(Refusal, match="a file that no row names"):
        import_job(Archive(io.BytesIO(forged(data, "files/reports/" + "a" * 64, b"x" * 1000))))
    out = io.BytesIO()
    blown = io.BytesIO(forged(data, "rows/record.note.jsonl", b"\n" * 5_000_000))
    with zipfile.ZipFile(blown) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            new.writestr(name, old.read(name))
    with pytest.raises(Refusal, match="times their size"):
        Archive(io.BytesIO(out.getvalue()))
    monkeypatch.setattr("uvrix.shop.archive.reading.MOST_LINES", 5)
    with pytest.raises(Refusal, match="more rows"):
        import_job(Archive(io.BytesIO(data)))
    monkeypatch.setattr("uvrix.shop.archive.elsewhere.MOST_BYTES", 1000)
    with pytest.raises(Refusal, match="unpacks to"):
        Archive(io.BytesIO(data))


def test_every_row_that_a_job_writes_is_one_that_it_may_bring(demo):
    allowed = models_of_a_job()
    for job in Job.objects.all():
        assert set(rows_of_job(job)) <= allowed, job.label
    assert not {model.__name__ for model in allowed} & {"Invitation", "CustomerLink", "AccountEvent", "StockSettings"}


def test_one_missing_file_is_named_and_the_backup_goes_on(filled, settings, tmp_path, capsys):
    file = tmp_path / "shop.zip"
    lost = next(path for path in settings.MEDIA_ROOT.rglob("*") if path.is_file())
    lost.unlink()
    call_command("backup", file)
    said = capsys.readouterr()
    assert "rows of" in said.out
    assert "found 1 file missing" in said.err
    assert lost.name in said.err
    assert file.stat().st_mode & 0o777 == 0o600
    empty(settings, tmp_path / "store")
    call_command("restore", file)
    assert Job.objects.exists()


def test_a_damaged_backup_is_refused_in_one_line_and_nothing_of_it_is_kept(filled, settings, tmp_path):
    file = tmp_path / "shop.zip"
    call_command("backup", file)
    whole = file.read_bytes()
    empty(settings, tmp_path / "store")
    for damaged in (whole[: len(whole) // 2], whole[:-200], b"", whole[:3000] + bytes(500) + whole[3500:]):
        file.write_bytes(damaged)
        with pytest.raises(CommandError) as refused:
            call_command("restore", file)
        assert "\n" not in str(refused.value)
        assert not Job.objects.exists()


def test_an_archive_damaged_anywhere_is_refused_or_was_not_harmed(filled):
    """A stretch of other bytes at every place: what lies there, a header or packed data, decides how it fails."""
    made = io.BytesIO()
    write_shop(made, secret=True)
    whole, refused = made.getvalue(), 0
    damage = random.Random(20_261_201)
    for at in range(0, len(whole), max(1, len(whole) // 300)):
        size = damage.choice((1, 4, 60, 500))
        try:
            Archive(io.BytesIO(whole[:at] + damage.randbytes(size) + whole[at + size :]))
        except Refusal as refusal:
            refused += 1
            assert refusal.expected
    assert refused > 250


def test_backup_and_restore_by_command(filled, settings, tmp_path, capsys):
    file = tmp_path / "shop.zip"
    before = shop_bytes()
    call_command("backup", file)
    assert not file.with_name("shop.zip.half").exists()
    with pytest.raises(CommandError, match="expected an empty database"):
        call_command("restore", file)
    empty(settings, tmp_path / "store")
    call_command("restore", file)
    assert "rows back" in capsys.readouterr().out
    assert hashes(shop_bytes()) == hashes(before)
    with pytest.raises(CommandError, match="No such file"):
        call_command("restore", tmp_path / "none.zip")
