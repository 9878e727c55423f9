"""An entry's id stands for one entry: sent again it counts once, with another body it is refused and not dropped."""

from __future__ import annotations

from uuid import uuid4

import pytest

from uvrix.shop.accounts.models import EntrySeen

BODIES = [
    ("timeline", {"text": "First."}, {"text": "Second."}),
    ("owed", {"kind": "other", "words": "The fan."}, {"kind": "other", "words": "The bracket."}),
    ("power", {"state": "off"}, {"state": "computer"}),
    ("rungs", {"rung": "absent"}, {"rung": "listed"}),
]


@pytest.mark.parametrize(("room", "first", "second"), BODIES, ids=lambda value: value if isinstance(value, str) else "")
def test_the_same_id_with_another_body_is_refused(technician, job, room, first, second):
    address, number = f"/api/v1/jobs/{job.pk}/{room}", str(uuid4())
    assert technician.post(address, {"id": number, **first}).status_code == 201
    again = technician.post(address, {"id": number, **first})
    assert again.status_code == 200
    other = technician.post(address, {"id": number, **second})
    assert (other.status_code, other.json()["code"]) == (409, "id-used")
    assert "expected a new id" in other.json()["detail"]
    # what was refused for its id leaves the first in force
    assert technician.post(address, {"id": number, **first}).status_code == 200


def test_what_was_refused_may_be_corrected_under_its_id(technician, scaup_job):
    technician.post(f"/api/v1/jobs/{scaup_job.pk}/power", {"id": str(uuid4()), "state": "off"})
    address, number = f"/api/v1/jobs/{scaup_job.pk}/readings", str(uuid4())
    wrong = {"id": number, "point": "C2", "quantity": "resistance", "value": "many"}
    assert technician.post(address, wrong).status_code in (400, 422)
    assert not EntrySeen.objects.filter(pk=number).exists()
    assert technician.post(address, {**wrong, "value": "8k1"}).status_code == 201
