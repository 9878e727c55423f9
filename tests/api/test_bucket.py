"""Files in a bucket of an S3-compatible store instead of a folder: kept whole, found again, in archives."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import boto3
import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from moto.server import ThreadedMotoServer

from tests.api.conftest import small_picture
from uvrix.shop.archive.writing import write_shop
from uvrix.shop.config.contents import is_whole, keep
from uvrix.shop.config.health import CHECKS
from uvrix.shop.config.settings import IN_BUCKET

BUCKET = "uvrix-files"
OPTIONS: Any = IN_BUCKET["OPTIONS"]


@pytest.fixture(scope="module")
def store():
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
    server.start()
    host, port = server.get_host_and_port()
    yield f"http://{host}:{port}"
    server.stop()


@pytest.fixture
def bucket(store, settings, monkeypatch):
    for name, value in (
        ("ACCESS_KEY_ID", "testing"),
        ("SECRET_ACCESS_KEY", "testing"),
        ("DEFAULT_REGION", "eu-west-1"),
    ):
        monkeypatch.setenv(f"AWS_{name}", value)
    client = boto3.client("s3", endpoint_url=store)
    client.create_bucket(Bucket=BUCKET, CreateBucketConfiguration={"LocationConstraint": "eu-west-1"})
    options = {**OPTIONS, "bucket_name": BUCKET, "endpoint_url": store}
    settings.STORAGES = {**settings.STORAGES, "default": {**IN_BUCKET, "OPTIONS": options}}
    settings.BUCKET = BUCKET
    yield client
    for held in client.list_objects_v2(Bucket=BUCKET).get("Contents", ()):
        client.delete_object(Bucket=BUCKET, Key=held["Key"])
    client.delete_bucket(Bucket=BUCKET)


def test_content_is_kept_whole_and_a_stump_is_written_anew(bucket):
    content = bytes(range(256)) * 5000
    kept = keep("reports", content)
    with default_storage.open(kept.stored_as) as stored:
        assert stored.read() == content
    bucket.put_object(Bucket=BUCKET, Key=kept.stored_as, Body=content[:100])
    assert not is_whole(kept.stored_as, kept.sha256)
    assert keep("reports", ContentFile(content)) == kept
    assert is_whole(kept.stored_as, kept.sha256, len(content))
    assert not is_whole("reports/ff/none", kept.sha256)
    assert not is_whole("reports/ff/none", kept.sha256, 3)


def test_pictures_and_archives_work_as_with_a_folder(bucket, upload, technician, people):
    picture = upload("pictures", "board.png", small_picture()).json()
    shown = technician.get(f"/api/v1/pictures/{picture['sha256']}?small=true")
    assert b"".join(shown.streaming_content)[:2] == b"\xff\xd8"
    out = io.BytesIO()
    written = write_shop(out, secret=True)
    assert written.missing == []
    assert any(picture["sha256"] in name for name in zipfile.ZipFile(out).namelist())
    for held in bucket.list_objects_v2(Bucket=BUCKET)["Contents"]:
        bucket.delete_object(Bucket=BUCKET, Key=held["Key"])
    assert len(write_shop(io.BytesIO(), secret=True).missing) == 1, "what is missing is named, all else is kept"


def test_a_store_that_does_not_answer_is_not_ready(bucket, settings):
    assert CHECKS["store"]() == "ok"
    options = {**settings.STORAGES["default"]["OPTIONS"], "endpoint_url": "http://127.0.0.1:9"}
    settings.STORAGES = {**settings.STORAGES, "default": {**IN_BUCKET, "OPTIONS": options}}
    assert "does not answer" in CHECKS["store"]()
