"""People, boards and jobs for API tests; the client speaks JSON and keeps a session like a browser."""

from __future__ import annotations

import gc
import io
import warnings
from pathlib import Path
from uuid import uuid4

import pytest
from django.contrib.auth.hashers import Argon2PasswordHasher
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from PIL import Image
from rest_framework.test import APIClient

from uvrix.shop.accounts.models import User
from uvrix.shop.config.access import SignedInSession
from uvrix.shop.config.roles import Role
from uvrix.shop.config.wsgi import application
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_board
from uvrix.shop.ohms.services import NewPower, NewReading, enter_reading, set_power_state, tick

ROOT = Path(__file__).parents[2]
BOARDS = ROOT / "data/boards"
SAMPLES = ROOT / "docs/formats/samples"
OWN_HOST = {"Host": "localhost"}


def close_files(answer):
    """Close what a file answer holds open; `answer.close()` would end the test's database connection too."""
    for close in answer._resource_closers:
        close()


class WeakArgon2(Argon2PasswordHasher):
    """The shop's own hasher at the least that Argon2 takes: guessing a password of a test need not be hard."""

    time_cost, memory_cost, parallelism = 1, 8, 1


@pytest.fixture(autouse=True)
def _files(settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path


@pytest.fixture(autouse=True)
def _weakly_hashed(settings):
    settings.PASSWORD_HASHERS = [f"{__name__}.{WeakArgon2.__name__}"]


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
def schema(demo, monkeypatch, request):
    """The API's own schema over the demo shop, with its lead or another role signed in; its cases can be called."""
    # half as much to import as all other tests together, so it is done where it is used
    import schemathesis

    person = User.objects.filter(role=getattr(request, "param", Role.LEAD)).earliest("pk")
    # the WSGI client drops cookies; sessions and their tokens are tested in test_access
    monkeypatch.setattr(SignedInSession, "authenticate", lambda *_: (person, None))
    # the test's one connection must outlive each request
    request_started.disconnect(close_old_connections)
    request_finished.disconnect(close_old_connections)
    read = schemathesis.openapi.from_wsgi("/api/v1/schema?format=json", application, headers=OWN_HOST)
    read.config.generation.update(with_security_parameters=False)
    yield read
    request_started.connect(close_old_connections)
    request_finished.connect(close_old_connections)


def misfits(case, answer):
    """What is wrong with an answer: a server error, a body or a content type that the schema does not say."""
    from schemathesis.checks import not_a_server_error
    from schemathesis.core.failures import FailureGroup
    from schemathesis.specs.openapi.checks import content_type_conformance, response_schema_conformance

    try:
        case.validate_response(
            answer, checks=[not_a_server_error, response_schema_conformance, content_type_conformance]
        )
    except FailureGroup as failures:
        return {
            type(failure).__name__: f"{case.method} {case.operation.path}: {failure}" for failure in failures.exceptions
        }
    return {}


@pytest.fixture
def _left_open():
    """The client that calls cases leaves the files of file answers to the garbage collector: it is called here."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ResourceWarning)
        yield
        gc.collect()


@pytest.fixture
def technician(as_role):
    return as_role("technician")


def by_lead(address, body):
    """What the lead alone sets."""
    browser = APIClient()
    browser.force_login(User.objects.get(role=Role.LEAD), backend="django.contrib.auth.backends.ModelBackend")
    return browser.put(address, body)


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
def powered(people, scaup_job):
    """A card whose inputs and fuses are read, and that is on the supply."""
    by = people[Role.TECHNICIAN]
    set_power_state(scaup_job, NewPower(uuid4(), "off"), by)
    for point, value in SCAUP_INPUTS.items():
        enter_reading(scaup_job, NewReading(uuid4(), point, "resistance", value, "ohms"), by)
    for fuse in SCAUP_FUSES:
        tick(scaup_job, uuid4(), fuse, "", by)
    set_power_state(scaup_job, NewPower(uuid4(), "supply", plugs_in=True), by)
    return Job.objects.get(pk=scaup_job.pk)
