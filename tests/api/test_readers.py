"""Taught readers in the shop: saved, picked by themselves, offered where none fits, tried on a sample."""

from __future__ import annotations

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.api.conftest import SAMPLES
from uvrix.core.memory.teaching import find_marks, teach
from uvrix.shop.bench.models import MemoryRun
from uvrix.shop.library.models import Reader
from uvrix.shop.library.services import import_board, import_package

READERS = SAMPLES / "readers"
MARKS = {
    "lapwing-counts": [("A1", "channel"), ("12", "errors"), ("warm", "condition")],
    "lapwing-lines": [("B1", "channel"), ("FFFFFFFF", "expected"), ("FFFFDFFF", "actual"), ("cold", "condition")],
    "lapwing-wide": [("A0", "channel"), ("0", "errors"), ("0", "dq0"), ("cold", "condition")],
}


def document(name):
    sample = (READERS / f"{name}.txt").read_text()
    return teach(sample, find_marks(sample, MARKS[name]), name)


def save(client, content):
    file = SimpleUploadedFile("x.reader.json", json.dumps(content).encode())
    return client.post("/api/v1/readers", {"file": file}, format="multipart")


def test_a_reader_is_saved_in_editions_and_exported_as_it_came(technician):
    first, again = save(technician, document("lapwing-wide")), save(technician, document("lapwing-wide"))
    assert (first.status_code, again.status_code, again.json()["edition"]) == (201, 200, 1)
    changed = {**document("lapwing-wide"), "of_the_shop": [1.5]}
    assert save(technician, changed).json()["edition"] == 2
    assert json.loads(technician.get("/api/v1/readers/lapwing-wide/file").content) == changed
    assert [entry["name"] for entry in technician.get("/api/v1/readers").json()] == ["lapwing-wide"]
    refused = save(technician, {"format": "uvrix-reader"})
    assert (refused.status_code, refused.json()["code"]) == (422, "refused-file")
    assert Reader.objects.count() == 1


def test_the_fitting_reader_is_picked_and_named(technician, drop):
    for name in MARKS:
        save(technician, document(name))
    for name, chips in (("lapwing-lines", ["U15"]), ("lapwing-wide", ["U12"])):
        run = drop(f"readers/{name}.txt", (READERS / f"{name}.txt").read_bytes()).json()
        assert run["located"]["reports"][0]["format"] == name
        assert run["located"]["finding"]["designators"] == chips
    assert MemoryRun.objects.filter(reader=None).count() == 0


def test_a_report_that_no_reader_knows_offers_to_teach_one(drop):
    answer = drop("own.txt", (READERS / "lapwing-lines.txt").read_bytes())
    assert (answer.status_code, answer.json()["code"]) == (422, "no-reader")
    assert "teach one" in answer.json()["detail"]
    assert MemoryRun.objects.count() == 0


def test_a_text_of_names_and_values_is_not_swallowed_by_a_reader(technician, drop):
    for name in MARKS:
        save(technician, document(name))
    chatter = "tester: heron\ncondition: cold\n" + "".join(f"[{n}] nothing of note\n" for n in range(400))
    answer = drop("other.txt", chatter.encode())
    assert (answer.status_code, answer.json()["code"]) == (422, "no-reader")
    few = chatter.encode() + (READERS / "lapwing-lines.txt").read_bytes()
    answer = drop("few.txt", few)
    assert (answer.status_code, answer.json()["code"]) == (409, "mostly-unread")
    assert "lapwing-lines" in answer.json()["detail"]
    assert MemoryRun.objects.count() == 0
    run = drop("few.txt", few, partly="true")
    assert run.status_code == 201
    assert run.json()["located"]["finding"]["designators"] == ["U15"]


def test_an_old_run_is_read_again_by_its_own_reader(technician, drop, job, teal, people):
    save(technician, document("lapwing-lines"))
    drop("own.txt", (READERS / "lapwing-lines.txt").read_bytes())
    text = teal.text.replace('"order": ["C0", "B1"', '"order": ["B1", "C0"')
    import_board(text.encode(), "teal-8.board.json", people["lead"])
    found = technician.get(f"/api/v1/jobs/{job.pk}/finding").json()
    assert found["finding"]["designators"] == ["U14"]


def test_trying_shows_every_line_and_the_board_and_stores_nothing(technician, teal):
    sample = (READERS / "lapwing-wide.txt").read_text()
    marks = [vars_of(mark) for mark in find_marks(sample, MARKS["lapwing-wide"])]
    body = {"sample": sample, "marks": marks, "name": "x", "board_model": "teal-8"}
    tried = technician.post("/api/v1/readers/try", body).json()
    assert tried["located"]["finding"]["designators"] == ["U12"]
    assert [line["use"] for line in tried["lines"]].count("tally") == 8
    assert (tried["unread"], tried["problem"]) == (2, "")
    blank = technician.post("/api/v1/readers/try", {**body, "marks": []}).json()
    assert (blank["document"], blank["located"], blank["unread"]) == (None, None, 11)
    wrong = technician.post("/api/v1/readers/try", {**body, "marks": marks[1:]}).json()
    assert "channel" in wrong["problem"]
    assert Reader.objects.count() == 0


def vars_of(mark):
    return {"line": mark.line, "start": mark.start, "end": mark.end, "column": mark.column}


def test_the_lines_of_a_finding_are_named_as_balls(drop, people, technician, job):
    path = SAMPLES.parents[2] / "data/packages/fb180.csv"
    import_package(path.read_bytes(), "fb180", people["lead"])
    found = drop("teal-8-cold.csv").json()["located"]
    assert [ball["line"] for ball in found["balls"]] == [6]
    assert found["balls"][0]["ball"]
    assert technician.get(f"/api/v1/jobs/{job.pk}/finding").json()["balls"] == found["balls"]


@pytest.mark.parametrize("condition", ["warm", "flexed up"])
def test_runs_are_compared_under_the_condition_that_was_entered(drop, technician, job, condition):
    drop("teal-8-cold.csv", condition="cold")
    drop("clean.csv", b"# result: pass\nchannel\n", condition=condition)
    compared = technician.get(f"/api/v1/jobs/{job.pk}").json()["located"]["compared"]
    assert [(entry["designator"], entry["verdict"]) for entry in compared] == [("U18", "comes-and-goes")]
    assert condition in compared[0]["why"]
