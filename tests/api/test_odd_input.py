"""What no field can keep is refused in words wherever it is sent: NUL, half characters, documents nested too deep."""

from __future__ import annotations

import json
from urllib.parse import quote
from uuid import uuid4

import pytest

NUL, HALF = "a\0b", "\ud800"


@pytest.mark.parametrize("text", [NUL, "%00"])
@pytest.mark.parametrize(
    "address", ["customers?search={}", "shelf?text={}", "stock/parts?text={}", "search?text={}", "figures?model={}"]
)
def test_nul_in_a_question_is_no_fault_of_the_server(technician, address, text):
    answer = technician.get(f"/api/v1/{address.format(quote(text, safe='%'))}")
    assert answer.status_code < 500, answer.content


@pytest.mark.parametrize("text", [NUL, HALF])
def test_what_cannot_be_kept_is_refused_and_nothing_is_stored(technician, job, text):
    for room, body in (
        ("notes", {"id": str(uuid4()), "words": text}),
        ("rework", {"id": str(uuid4()), "do": "renew-joint", "site": "U14", "note": text, "air": [{"phase": text}]}),
        ("owed", {"id": str(uuid4()), "kind": "other", "words": text}),
    ):
        address, sent = f"/api/v1/jobs/{job.pk}/{room}", json.dumps(body)
        answer = technician.generic("POST", address, sent, content_type="application/json")
        assert 400 <= answer.status_code < 500, (room, answer.content)
    assert technician.get(f"/api/v1/jobs/{job.pk}/rework").json()["events"] == []


def test_a_document_nested_too_deep_is_refused(as_role, job):
    deep = "[" * 5000 + "]" * 5000
    body = json.dumps({"document": 0}).replace("0", deep)
    answer = as_role("lead").generic("PUT", "/api/v1/rework-settings", body, content_type="application/json")
    assert 400 <= answer.status_code < 500, answer.content


def test_an_entry_larger_than_any_screen_sends_is_refused_by_its_length(technician, job, settings):
    body = '{"id": "' + "x" * settings.DATA_UPLOAD_MAX_MEMORY_SIZE + '"}'
    refused = technician.generic("POST", f"/api/v1/jobs/{job.pk}/owed", body, content_type="application/json")
    assert (refused.status_code, refused.json()["code"]) == (413, "too-large")
