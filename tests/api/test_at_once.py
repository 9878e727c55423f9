"""Two at once: the same entry sent twice in the same moment, two people on one job."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection

from tests.api.conftest import SAMPLES
from uvrix.shop.accounts.models import Role
from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.bench.services import DroppedReport, NewMark, add_run, set_mark
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.services import NewJob, open_job

pytestmark = pytest.mark.django_db(transaction=True)
TIMES = 4


def at_once(work, *each):
    """The work with each of the arguments at the same time; problems are answers too."""

    def one(argument):
        try:
            return work(argument)
        except Problem as problem:
            return problem.code
        finally:
            connection.close()

    with ThreadPoolExecutor(len(each)) as pool:
        return list(pool.map(one, each))


def dropped(entry, name="teal-8-cold.csv", **more):
    return DroppedReport(entry, SimpleUploadedFile(name, (SAMPLES / name).read_bytes()), **more)


def test_one_entry_sent_many_times_at_once_makes_one_run(job, people):
    entry = uuid4()
    made = at_once(lambda _: add_run(job, dropped(entry), people[Role.TECHNICIAN])[0].pk, *range(TIMES))
    assert set(made) == {entry}
    assert MemoryRun.objects.count() == 1


def test_different_runs_at_once_all_stay_with_numbers_of_their_own(job, people):
    names = ["teal-8-cold.csv", "teal-8-warm.csv"] * 2
    made = at_once(lambda name: add_run(job, dropped(uuid4(), name, another=True), people[Role.LEAD])[0].pk, *names)
    assert len(set(made)) == TIMES
    assert sorted(MemoryRun.objects.values_list("number", flat=True)) == [1, 2, 3, 4]
    job.refresh_from_db()
    assert len(job.located["reports"]) == TIMES


def test_the_same_file_from_two_people_is_asked_about_once(job, people):
    made = at_once(lambda person: add_run(job, dropped(uuid4()), person)[0].number, *people.values())
    assert sorted(map(str, made)) == ["1", "same-file", "same-file"]


def test_one_job_entry_sent_many_times_at_once_opens_one_job(teal, people):
    new = NewJob(uuid4(), "TL8-9", "teal-8", "Una Brack", "Dead.")
    made = at_once(lambda _: open_job(new, people[Role.FRONT_DESK])[0].pk, *range(TIMES))
    assert len(set(made)) == 1
    assert Job.objects.count() == 1


def test_one_mark_sent_many_times_at_once_stands_once(job, people):
    add_run(job, dropped(uuid4()), people[Role.TECHNICIAN])
    job.refresh_from_db()
    entry = uuid4()
    for answer in ("yes", "no"):
        at_once(
            lambda _, a=answer: set_mark(job, NewMark(entry, "U18", "U18", a), people[Role.LEAD])[0].pk, *range(TIMES)
        )
    assert ChipMark.objects.count() == 1
