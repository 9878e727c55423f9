"""The case of a job: what one screen enters every other knows; what an act made untrue counts no more."""

from __future__ import annotations

import json
import subprocess
import sys
from dataclasses import replace
from uuid import uuid4

import pytest

from tests.api.conftest import BOARDS
from tests.core.memory.cases import read as report_of
from uvrix.core.boards.document import read_board
from uvrix.core.memory.stored import report_to_json
from uvrix.core.readings.notation import UNIT
from uvrix.shop.acts.models import Act
from uvrix.shop.case import findings
from uvrix.shop.case.answers import tell, with_told
from uvrix.shop.case.models import JobTold
from uvrix.shop.case.rows import SOURCES, gather
from uvrix.shop.case.threads import thread
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import Job
from uvrix.shop.ohms.services import import_known

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())
KNOWN = BOARDS.parent / "known/teal-8.known.csv"
INPUTS = {"C12": "9k1", "PL1": "8k9", "PL2": "9k3", "C41": "645"}
FUSES = ("F1", "F2", "F3")


@pytest.fixture
def bench(technician, job, people):
    """Posts to the job as a technician; the card is off and the library knows the model."""
    import_known(KNOWN.read_bytes(), KNOWN.name, people[Role.LEAD])

    def post(address, **body):
        return technician.post(f"/api/v1/jobs/{job.pk}/{address}", {"id": str(uuid4()), **body})

    assert post("power", state="off").status_code == 201
    return post


@pytest.fixture
def read(bench):
    def enter(point, value, quantity="resistance", **more):
        mode = {"resistance": "ohms", "diode": "diode"}.get(quantity, "")
        body = {"point": point, "quantity": quantity, "value": value, "mode": mode, "sure": True, **more}
        answer = bench("readings", **body)
        assert answer.status_code == 201, answer.content

    return enter


@pytest.fixture
def read_all(read):
    def enter():
        for point, value in INPUTS.items():
            read(point, value)
        for fuse in FUSES:
            read(fuse, "0R05")

    return enter


@pytest.fixture
def case(technician, job):
    return lambda: technician.get(f"/api/v1/jobs/{job.pk}/case").json()


@pytest.fixture
def power(bench):
    return lambda: bench("power", state="supply", plugs_in=True)


def next_of(client, job):
    return client.get(f"/api/v1/jobs/{job.pk}").json()["next"]


def test_a_fuse_that_reads_good_needs_no_tick(read_all, power):
    assert power().json()["code"] == "locked"
    read_all()
    assert power().status_code == 201


def test_a_fuse_that_reads_open_is_not_good_by_a_tick(bench, read, read_all, power):
    read_all()
    read("F2", "OL")
    assert bench("ticks", point="F2").status_code == 201
    answer = power().json()
    assert answer["code"] == "locked"
    assert "F2" in answer["detail"]


@pytest.mark.parametrize(
    ("address", "body"),
    [
        ("tried", {"node": "core", "part": "U73", "done": "replaced", "came_of": "no-change"}),
        ("taken-off", {"part": "U73"}),
        ("fuse-swaps", {"point": "F2", "rating": "10 A"}),
    ],
)
def test_power_asks_for_the_inputs_again_after_an_act_on_any_screen(bench, read_all, power, case, address, body):
    read_all()
    answer = bench(address, **body)
    assert answer.status_code in {200, 201}, answer.content
    refused = power().json()
    assert refused["code"] == "locked", "what was read before the act does not unlock power"
    assert any(entry["void_by"] is not None for entry in case()["entries"])
    read_all()
    assert power().status_code == 201


def test_a_low_reading_anywhere_on_an_inputs_net_locks(read, read_all, power):
    read_all()
    read("RS1", "0R2", to="ground")
    assert power().json()["code"] == "locked"


def test_what_came_off_at_the_hunt_is_fitted_at_rework(technician, job, bench, case):
    assert bench("taken-off", part="U73").status_code == 201
    answer = bench("rework", do="place", site="U73", chip_in="TL8-1/U73")
    assert answer.status_code == 201, answer.content
    assert [debt["target"] for debt in case()["owed"] if debt["what"] == "fit"] == []


def test_a_missing_part_is_known_to_every_screen(technician, job, bench, case):
    bench("symptom", often="always", kinds=["dead"])
    at = next(part for part in TEAL.parts if part.designator == "C121")
    assert at.centre
    where = {"side": at.side, "x_mm": float(at.centre[0]), "y_mm": float(at.centre[1])}
    assert bench("look/findings", kind="missing-part", part="C121", **where).status_code == 201
    assert next_of(technician, job)["do"] == "Fit C121"
    assert case()["causes"][0]["says"] == "C121 missing"


def test_the_strip_forgets_what_was_told_as_soon_as_anything_changes(technician, job, bench, read):
    before = next_of(technician, job)
    assert JobTold.objects.filter(job=job).exists()
    bench("symptom", often="always", kinds=["dead"])
    assert not JobTold.objects.filter(job=job).exclude(content=None).exists()
    assert next_of(technician, job) != before
    read("PL2", "0R4")
    found = next_of(technician, job)
    assert (found["what"], found["step"]) in {("read", "ohms"), ("inject", "ohms"), ("look", "look")}


def test_every_step_gives_its_rows_and_the_thread_knows_none(job, read_all):
    read_all()
    modules = {give.__module__.split(".")[2] for _, give in SOURCES}
    assert modules == {"arrive", "look", "ohms", "shorts", "volts", "bench", "rework", "proving", "offers", "case"}
    rows = gather([job.pk])[job.pk]
    assert [row.at for row in rows] == sorted(row.at for row in rows)
    assert not thread(job).left_out


def test_the_case_as_a_file_is_read_by_the_command_line(technician, job, bench, read_all, tmp_path):
    bench("symptom", often="always", kinds=["dead"])
    read_all()
    bench("taken-off", part="U73")
    kept = technician.get(f"/api/v1/jobs/{job.pk}/case/file")
    assert "attachment" in kept["Content-Disposition"]
    (tmp_path / "one.case.json").write_bytes(kept.content)
    document = json.loads(kept.content)
    readings = [entry["reading"] for entry in document["entries"] if "reading" in entry]
    assert {reading["unit"] for reading in readings} == {UNIT["resistance"]}
    board = BOARDS / "teal-8.board.json"
    command = [sys.executable, "-m", "uvrix.cli", "next", str(tmp_path / "one.case.json"), "--board", str(board)]
    ran = subprocess.run([*command, "--known", str(KNOWN), "--json"], capture_output=True, text=True, check=True)
    told = json.loads(ran.stdout)
    page = technician.get(f"/api/v1/jobs/{job.pk}/case").json()
    assert told["card"]["off"] == ["U73"]
    assert [entry["says"] for entry in told["next"]] == [entry["says"] for entry in page["next"]]
    assert [block["about"] for block in told["power"]["blocks"]] == [block["about"] for block in page["blocks"]]


def test_the_number_of_queries_does_not_grow_with_the_thread(job, read_all, django_assert_max_num_queries):
    read_all()
    with django_assert_max_num_queries(2 * len(SOURCES) + 12):
        thread(Job.objects.get(pk=job.pk))
    read_all()
    with django_assert_max_num_queries(2 * len(SOURCES) + 12):
        thread(Job.objects.get(pk=job.pk))


def test_an_act_that_is_taken_back_voids_nothing_any_more(technician, bench, read_all, power, case):
    read_all()
    entry = {"do": "renew-joint", "site": "U73", "alloy_on": "leaded"}
    answer = bench("rework", **entry)
    assert answer.status_code == 201, answer.content
    [act] = [item for item in case()["entries"] if item["act"]]
    assert any(item["void_by"] == act["number"] for item in case()["entries"])
    assert act["voids"] == [item["number"] for item in case()["entries"] if item["void_by"] == act["number"]]
    assert power().json()["code"] == "locked"
    row = Act.objects.get()
    back = technician.post(f"/api/v1/acts/{row.pk}/withdrawal", {"reason": "Entered at the wrong card."})
    assert back.status_code in {200, 201}, back.content
    assert all(item["void_by"] is None for item in case()["entries"])
    assert power().status_code == 201


def test_what_was_made_of_rows_read_before_an_entry_is_not_kept_after_it(bench, job):
    """An entry that comes while another page reads the thread: the page shows what it read, the next one what is."""
    [before] = with_told([Job.objects.get(pk=job.pk)])
    row = JobTold.objects.get(job=job)
    bench("symptom", often="always", kinds=["dead"])
    assert JobTold.objects.get(job=job).version == row.version + 1
    slow = Job.objects.get(pk=job.pk)
    tell([slow], {job.pk: row.version})  # it had begun to read before the entry
    assert JobTold.objects.get(job=job).content is None, "made of older rows, and not kept"
    [after] = with_told([Job.objects.get(pk=job.pk)])
    assert after.told is not None
    assert JobTold.objects.get(job=job).content == after.told
    assert before.told is not None
    assert before.told["next"] != after.told["next"]


def test_the_same_runs_on_the_same_board_are_weighed_once_and_others_anew(monkeypatch):
    """Every screen of a job asks for its finding; the newest hundred are kept."""
    weighed: list[str] = []
    monkeypatch.setattr(findings, "locate", lambda _, reports: weighed.append(reports[0][0]))
    stored = json.dumps(report_to_json(report_of("# result: pass\nchannel,errors\n", TEAL)))
    report = findings.read_report(stored)
    assert findings.read_report(stored) is report
    for name in ("first", "first", "first", "renamed"):
        findings.find(TEAL, [(name, report)])
    findings.find(replace(TEAL), [("first", report)])
    assert weighed == ["first", "renamed", "first"]
    for number in range(findings.MOST_FINDINGS):
        findings.find(TEAL, [(f"run {number}", report)])
    findings.find(TEAL, [("first", report)])
    assert weighed[-1] == "first", "older ones than the newest are let go"
    findings._FOUND.clear()
