"""Tables typed off a photograph, and recipes filled for a job."""

from __future__ import annotations

import json
from uuid import uuid4

import pytest

from tests.api.conftest import ROOT, SAMPLES
from uvrix.shop.bench.models import MemoryRun
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.services import import_recipe

CHANNELS = ["A0", "A1", "B0", "B1", "C0", "C1", "D0", "D1"]


@pytest.fixture
def type_in(technician, job):
    def send(counts, **more):
        rows = [{"channel": channel, "errors": count} for channel, count in zip(CHANNELS, counts, strict=True)]
        return technician.post(f"/api/v1/jobs/{job.pk}/runs/typed", {"id": str(uuid4()), "rows": rows, **more})

    return send


def test_a_typed_table_is_a_run_like_any_other(type_in, technician, job):
    answer = type_in([0, 412, 0, 0, 0, 1, 0, 0], total=413, condition="cold, flexed")
    assert answer.status_code == 201
    run = answer.json()
    assert run["condition"] == ["cold", "flexed"]
    assert run["located"]["finding"]["designators"] == ["U18"]
    kept = technician.get(f"/api/v1/runs/{run['id']}/file")
    text = b"".join(kept.streaming_content).decode()
    assert "# report: typed from a photograph" in text
    assert "A1,412" in text
    assert technician.get(f"/api/v1/jobs/{job.pk}").json()["located"]["finding"]["designators"] == ["U18"]


def test_a_total_that_differs_names_the_slip_and_keeps_nothing(type_in):
    answer = type_in([0, 421, 0, 0, 0, 1, 0, 0], total=413)
    assert (answer.status_code, answer.json()["code"]) == (422, "total-differs")
    assert (answer.json()["total"], answer.json()["found"]) == (413, 422)
    assert {"channel": "A1", "typed": 421, "would": 412} in answer.json()["slips"]
    assert MemoryRun.objects.count() == 0


def test_the_same_entry_is_one_run_and_another_jobs_is_refused(type_in, technician, people, teal):
    entry = str(uuid4())
    counts = [0, 3, 0, 0, 0, 0, 0, 0]
    assert [type_in(counts, id=entry).status_code for _ in range(2)] == [201, 200]
    from uvrix.shop.jobs.services import NewJob, open_job

    other, _ = open_job(NewJob(uuid4(), "TL8-2", "teal-8", "Ines Holt", "Snow."), people["lead"])
    rows = [{"channel": "A0", "errors": 1}]
    answer = technician.post(f"/api/v1/jobs/{other.pk}/runs/typed", {"id": entry, "rows": rows})
    assert (answer.status_code, answer.json()["code"]) == (409, "id-used")


@pytest.mark.parametrize(
    "rows",
    [
        [],
        [{"channel": "A0", "errors": -1}],
        [{"channel": "A0", "errors": 1}, {"channel": "A0", "errors": 2}],
        [{"channel": "no channel", "errors": 1}],
        [{"channel": "A0", "errors": 1, "lines": [2] + [0] * 31}],
    ],
)
def test_a_table_that_does_not_fit_is_refused(technician, job, rows):
    answer = technician.post(f"/api/v1/jobs/{job.pk}/runs/typed", {"id": str(uuid4()), "rows": rows})
    assert answer.status_code in (400, 422)
    assert answer.json()["detail"]
    assert MemoryRun.objects.count() == 0


def test_the_grid_is_in_the_order_of_the_last_report(technician, job, drop, upload):
    before = technician.get(f"/api/v1/jobs/{job.pk}/report-order").json()
    assert (before["channels"], "by name" in before["known"]) == (CHANNELS, True)
    listed = ["D1", "D0", "C1", "C0", "B1", "B0", "A1", "A0"]
    text = "channel,errors\n" + "".join(f"{channel},{n}\n" for n, channel in enumerate(listed))
    drop("tally.csv", text.encode())
    after = technician.get(f"/api/v1/jobs/{job.pk}/report-order").json()
    assert after["channels"] == listed
    assert "run 1" in after["known"]


@pytest.fixture
def lapwing(people):
    for name in ("lapwing-bench-1", "lapwing-bench-2"):
        import_recipe((ROOT / f"data/recipes/{name}.recipe.json").read_bytes(), name, people["lead"])


@pytest.mark.usefixtures("lapwing")
def test_recipes_fill_their_blanks_from_the_job(technician, job):
    shown = technician.get(f"/api/v1/jobs/{job.pk}/recipes").json()
    assert shown
    first = shown[0]
    missing = {name for step in first["steps"] for name in step["missing"]}
    values = {blank["name"]: "2" for blank in first["blanks"]}
    filled = technician.put(f"/api/v1/jobs/{job.pk}/recipes", {"values": values}).json()[0]
    assert {name for step in filled["steps"] for name in step["missing"]} == missing - set(values)
    commands = " ".join(step["command"] for step in filled["steps"])
    assert "{" not in commands
    again = technician.get(f"/api/v1/jobs/{job.pk}/recipes").json()[0]
    assert again == filled, "the blanks are kept for the job"


@pytest.mark.usefixtures("lapwing")
def test_a_value_that_would_break_out_of_its_word_is_refused_and_nothing_is_kept(technician, job):
    before = technician.get(f"/api/v1/jobs/{job.pk}/recipes").json()
    name = before[0]["blanks"][0]["name"]
    answer = technician.put(f"/api/v1/jobs/{job.pk}/recipes", {"values": {name: "2; reboot"}})
    assert answer.status_code == 422
    assert technician.get(f"/api/v1/jobs/{job.pk}/recipes").json() == before


def test_a_recipe_is_saved_in_editions_taken_out_and_brought_back(technician, as_role):
    document = json.loads((ROOT / "data/recipes/lapwing-bench-1.recipe.json").read_text())
    kept = technician.post("/api/v1/recipes", {"document": document})
    assert (kept.status_code, kept.json()["edition"]) == (201, 1)
    slug = kept.json()["slug"]
    assert technician.post("/api/v1/recipes", {"document": document}).status_code == 200
    changed = {**document, "note": "Changed."}
    assert technician.post("/api/v1/recipes", {"document": changed}).json()["edition"] == 2
    assert as_role("lead").delete(f"/api/v1/recipes/{slug}").status_code == 204
    assert technician.get("/api/v1/recipes").json() == []
    assert technician.post("/api/v1/recipes", {"document": changed}).status_code in (200, 201)
    assert [entry["slug"] for entry in technician.get("/api/v1/recipes").json()] == [slug]
    wrong = technician.post("/api/v1/recipes", {"document": {**document, "steps": []}})
    assert wrong.status_code == 422
    assert "steps" in wrong.json()["detail"]


@pytest.mark.usefixtures("lapwing")
def test_a_refused_report_is_answered_by_the_recipe(technician, job, drop):
    drop("refused.csv", (SAMPLES / "garganey-8-refused.csv").read_bytes(), board_confirmed="true")
    page = technician.get(f"/api/v1/jobs/{job.pk}").json()
    refusal = page["located"]["reports"][0]["refusal"]
    assert refusal
    shown = technician.get(f"/api/v1/jobs/{job.pk}/recipes").json()
    assert any(refusal in row["recipe"]["document"].get("refusals", {}) for row in shown)


@pytest.mark.usefixtures("lapwing")
def test_a_refusal_again_says_what_was_set_otherwise_where_the_tester_ran(technician, job, people, drop, upload):
    def worked():
        answer = technician.get(f"/api/v1/jobs/{job.pk}/recipes/worked")
        assert answer.status_code == 200
        return answer.json()

    none = worked()
    assert (none["job"], none["differs"], none["refusals"]) == (None, [], 0)
    text = "# tester: heron\n# build: {}\n# device: {}\n# result: {}\n{}channel,errors\n{}"
    other = open_job(NewJob(uuid4(), "TL8-55901", "teal-8", "Ansel Roe", "Artefacts."), people["front-desk"])[0]
    ran = text.format("4.2", "03:00.0", "fail", "", "A0,12\nA1,0\n")
    assert upload(f"jobs/{other.pk}/runs", "ran.csv", ran.encode(), id=uuid4()).status_code == 201
    for number, index in ((other.pk, "03:00.0"), (job.pk, "03:00.1")):
        technician.put(f"/api/v1/jobs/{number}/recipes", {"values": {"bus": index}})
    for times in (1, 2):
        said = text.format("4.1", "03:00.1", "refused", "# refusal: wrong-index\n", "").replace("errors", "address")
        assert drop(f"no{times}.csv", f"# run {times}\n{said}".encode()).status_code == 201
        found = worked()
        assert (found["job"], found["refusals"]) == (other.pk, times)
        differs = {differ["what"]: (differ["here"], differ["worked"]) for differ in found["differs"]}
        assert differs == {
            "build": ("4.1", "4.2"),
            "device": ("03:00.1", "03:00.0"),
            "Bus index of the card": ("03:00.1", "03:00.0"),
        }
    # a run that is not refused answers them all
    assert drop("ran.csv", text.format("4.2", "03:00.0", "pass", "", "").replace("errors", "address").encode())
    assert worked()["refusals"] == 0
