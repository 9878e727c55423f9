"""Rows of archives of an older version come as acts: what was done on six screens is one table since."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any
from uuid import UUID, uuid4, uuid5

import pytest

from uvrix.core.case.case_file import read_case
from uvrix.core.errors import Refusal
from uvrix.shop.acts.models import Act, ActWithdrawal
from uvrix.shop.archive.graph import shop_models
from uvrix.shop.archive.older import OLDER, translated
from uvrix.shop.archive.reading import Archive, import_job
from uvrix.shop.archive.writing import write_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.queries import model_board
from uvrix.shop.rework.models import ImageWrite
from uvrix.shop.shorts.models import Injection

WHO = {"job": 1, "by": 2, "at": "2026-11-01T10:00:00Z"}
KEY = str(uuid4())
ROWS: dict[str, dict[str, Any]] = {
    "rework.rework": {
        "site": "U14",
        "do": "remove",
        "chip": "T/U14",
        "chip_in": "",
        "alloy_off": "",
        "alloy_on": "leaded",
        "preheat_c": 150.0,
        "air": [],
        "minutes": 9.0,
        "balls": "",
        "ball_mm": None,
        "ball_count": None,
        "shields": ["U15"],
        "pin1": "upper left",
        "photograph": "p1",
        "moved": "",
        "result": "clean",
        "note": "",
    },
    "rework.reworkwithdrawal": {"rework": KEY, "reason": "wrong card", "by": 2, "at": WHO["at"]},
    "shorts.takenoff": {"part": "C116", "rails": ["mem"], "note": ""},
    "shorts.cutout": {"rail": "core", "phases": ["U73", "U74"], "note": "deep"},
    "shorts.injection": {"rail": "mem", "point": "L9", "wire": True, "volts": 0.5, "amps": 1.0, "note": ""},
    "ohms.fuseswap": {"point": "F1", "rating": "10 A", "reason": "it is read again"},
    "volts.parttried": {"node": "1v8", "part": "U62", "done": "renewed", "came_of": "no-change", "note": ""},
    "rework.imagewrite": {
        "image": "a",
        "old": "b",
        "chip_volts": 1.8,
        "power_off": True,
        "result": "works",
        "note": "twice",
    },
    "jobs.entryseen": {"digest": "00", "at": WHO["at"]},
    "jobs.job": {"complaint": "Snow.", "lie_side": "back", "lie_turns": 3},
}


SAID = {("look.jobphotograph", "p1"): "f" * 64, ("jobs.job", str(WHO["job"])): 7}


def rows(label):
    return list(translated(label, KEY, {**WHO, **ROWS[label]}, SAID))


@pytest.mark.parametrize("label", sorted(OLDER))
def test_every_row_of_an_older_version_has_exactly_the_columns_of_today(label):
    models = {model._meta.label_lower: model for model in shop_models()}
    assert rows(label)
    for now, _, fields in rows(label):
        names = {field.name for field in models[now]._meta.concrete_fields if not field.primary_key}
        own = set(fields) - (set(WHO) if label in {"jobs.entryseen", "jobs.job", "rework.reworkwithdrawal"} else set())
        assert own <= names, now
        if models[now] is Act:
            assert set(fields) == names


def test_each_is_the_act_that_it_was():
    [(_, key, rework)] = rows("rework.rework")
    assert (key, rework["step"], rework["do"], rework["site"], rework["picture"]) == (
        KEY, "rework", "remove", "U14", "f" * 64,
    )  # fmt: skip
    cut = rows("shorts.cutout")
    assert [(key, fields["site"], fields["rails"]) for _, key, fields in cut] == [
        (KEY, "U73", ["core"]), (str(uuid5(UUID(KEY), "U74")), "U74", ["core"]),
    ]  # fmt: skip
    [(_, _, tried)] = rows("volts.parttried")
    assert (tried["do"], tried["node"], tried["came_of"]) == ("renew-joint", "1v8", "no-change")
    [(_, _, act), (label, _, written)] = rows("rework.imagewrite")
    assert (act["do"], act["note"], label, written["image"]) == ("write", "twice", "rework.imagewrite", "a")
    [(label, _, fields)] = rows("rework.reworkwithdrawal")
    assert (label, fields["act"], "rework" in fields) == ("acts.actwithdrawal", KEY, False)
    assert ActWithdrawal._meta.label_lower == label
    [(_, _, opened)] = rows("jobs.job")
    assert (opened["orientation_side"], opened["orientation_turns"], opened["complaint"]) == ("back", 3, "Snow.")
    assert "wire" not in rows("shorts.injection")[0][2]
    assert Injection._meta.label_lower == "shorts.injection"
    assert ImageWrite._meta.pk.name == "act"


def test_a_jobs_archive_carries_its_case_and_comes_back_with_its_acts(technician, job, people, teal):
    address = f"/api/v1/jobs/{job.pk}"
    technician.post(f"{address}/rework", {"id": str(uuid4()), "do": "renew-joint", "site": "U14"})
    out = io.BytesIO()
    write_job(job, out)
    with zipfile.ZipFile(out) as kept:
        case = json.loads(kept.read(f"{job.label}.case.json"))
    assert [entry["did"] for entry in case["entries"]] == ["renew-joint"]
    assert read_case(json.dumps(case).encode(), model_board(job.card.model)).entries
    with pytest.raises(Refusal):
        Archive(io.BytesIO(out.getvalue()[:-200]))
    Act.objects.all().delete()
    Job.objects.filter(pk=job.pk).update(entry=uuid4())
    again = import_job(Archive(io.BytesIO(out.getvalue())))
    assert [row.do for row in again.act_rows.all()] == ["renew-joint"]
