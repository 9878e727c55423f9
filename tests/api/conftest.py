"""People, boards and jobs for API tests; the client speaks JSON and keeps a session like a browser."""

from __future__ import annotations

import io
from pathlib import Path
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from rest_framework.test import APIClient

from uvrix.shop.accounts.models import Role, User
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_board

ROOT = Path(__file__).parents[2]
BOARDS = ROOT / "data/boards"
SAMPLES = ROOT / "docs/formats/samples"


def close_files(answer):
    """Close what a file answer holds open; `answer.close()` would end the test's database connection too."""
    for close in answer._resource_closers:
        close()


@pytest.fixture(autouse=True)
def _files(settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path


@pytest.fixture
def people(db):
    found = {}
    for role in Role:
        found[role] = User(username=role.value, first_name=role.label, role=role)
        found[role].set_unusable_password()
        found[role].save()
    return found


@pytest.fixture
def as_role(people):
    def client(role):
        browser = APIClient(raise_request_exception=False)
        if role is not None:
            browser.force_login(people[Role(role)], backend="django.contrib.auth.backends.ModelBackend")
        return browser

    return client


@pytest.fixture
def technician(as_role):
    return as_role("technician")


@pytest.fixture
def teal(people):
    return import_board((BOARDS / "teal-8.board.json").read_bytes(), "teal-8.board.json", people[Role.LEAD])[0]


@pytest.fixture
def job(people, teal):
    new = NewJob(uuid4(), "TL8-1", "teal-8", "Ansel Roe", "No picture.")
    return open_job(new, people[Role.FRONT_DESK])[0]


def small_picture(kind="PNG", **more):
    written = io.BytesIO()
    Image.new("RGB", (30, 20), (90, 110, 100)).save(written, kind, **more)
    return written.getvalue()


PNG = small_picture()


@pytest.fixture
def upload(technician):
    """Uploads a file to an address below the API."""

    def send(address, name, content, client=technician, **more):
        body = {"file": SimpleUploadedFile(name, content), **more}
        return client.post(f"/api/v1/{address}", body, format="multipart")

    return send


@pytest.fixture
def drop(technician, job):
    """Drops a report on the job: a sample's name, or a name and bytes."""

    def send(name, data=None, **more):
        content = (SAMPLES / name).read_bytes() if data is None else data
        body = {"id": str(uuid4()), "file": SimpleUploadedFile(name, content), **more}
        return technician.post(f"/api/v1/jobs/{job.pk}/runs", body, format="multipart")

    return send


SCAUP_INPUTS = {"C2": "8k1", "C8": "640", "PA": "9k", "PB": "9k2"}
SCAUP_FUSES = ("F11", "F12", "F13")


@pytest.fixture
def scaup(people):
    return import_board((BOARDS / "scaup-24.board.json").read_bytes(), "scaup-24.board.json", people[Role.LEAD])[0]


@pytest.fixture
def scaup_job(people, scaup):
    entry = NewJob(uuid4(), "SC-1", scaup.model.slug, "Ansel Roe", "Dead.")
    return open_job(entry, people[Role.FRONT_DESK])[0]


@pytest.fixture
def powered(technician, scaup_job):
    """A card whose inputs and fuses are read, and that is on the supply."""
    address = f"/api/v1/jobs/{scaup_job.pk}"
    technician.post(f"{address}/power", {"id": str(uuid4()), "state": "off"})
    for point, value in SCAUP_INPUTS.items():
        reading = {"id": str(uuid4()), "point": point, "quantity": "resistance", "value": value, "mode": "ohms"}
        assert technician.post(f"{address}/readings", reading).status_code == 201
    for fuse in SCAUP_FUSES:
        technician.post(f"{address}/ticks", {"id": str(uuid4()), "point": fuse})
    on = {"id": str(uuid4()), "state": "supply", "plugs_in": True}
    assert technician.post(f"{address}/power", on).status_code == 201
    return scaup_job
