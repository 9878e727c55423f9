"""How jobs stand, counted in one statement, against a slow and obvious recount over the demo shop."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from uvrix.core.readings.notation import COLD
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.standing import with_standing
from uvrix.shop.proving.models import LateFault


def standing_rows(rows):
    return [row for row in rows.all() if not hasattr(row, "withdrawal")]


def recounted(job):
    runs, rework = standing_rows(job.runs), standing_rows(job.act_rows)
    looks = {look.region: look.clear for look in job.region_looks.order_by("at", "pk")}
    marks = sorted(standing_rows(job.marks), key=lambda row: row.at)
    attempts = sorted(standing_rows(job.attempts), key=lambda row: row.at)
    readings = [row.quantity in COLD for row in job.reading_rows.all()]
    fault = job.latefault_rows.order_by("at", "pk").last()
    power = job.powerstate_rows.order_by("at", "pk").last()
    return {
        "finding": (job.located or {}).get("finding"),
        "conditions": [report["condition"] for report in (job.located or {}).get("reports", [])],
        "runs": len(runs),
        "last_run_at": max((run.added_at for run in runs), default=None),
        "symptom_said": job.symptoms.exists(),
        "trials": len(standing_rows(job.trials)),
        "readings": sum(readings),
        "volts": len(readings) - sum(readings),
        "reworks": len(rework),
        "rework_at": max((entry.at for entry in rework), default=None),
        "fault": (fault.words, fault.back_to, fault.suspects, fault.at) if fault else None,
        "photographs": job.photographs.count(),
        "logged": job.prooflog_rows.exists(),
        "power": power.state if power else "",
        "clear_regions": {region for region, clear in looks.items() if clear},
        "seen_places": sorted(
            (row.side, row.x_mm, row.y_mm, row.x_px, row.y_px) for row in standing_rows(job.look_findings)
        ),
        "mark": (str(marks[-1].pk), marks[-1].designator, marks[-1].by.shown_name) if marks else None,
        "attempts": [(attempt.do, attempt.outcome, attempt.chips, attempt.at) for attempt in attempts],
    }


def counted(job):
    now = job.standing
    shown = {name: getattr(now, name) for name in recounted(job)}
    return {
        **shown,
        "fault": (now.fault.words, now.fault.back_to, now.fault.suspects, now.fault.at) if now.fault else None,
        "seen_places": sorted(
            (place["side"], place["x_mm"], place["y_mm"], place["x_px"], place["y_px"]) for place in now.seen_places
        ),
        "mark": (now.mark.id, now.mark.designator, now.mark.by) if now.mark else None,
        "attempts": [(attempt.do, attempt.outcome, attempt.chips, attempt.at) for attempt in now.attempts],
    }


def test_every_count_agrees_with_the_rows_one_by_one(demo, people):
    every = list(Job.objects.all())
    # what is taken back counts no more, and the last word on a region is the one that counts
    lead = every[0].opened_by
    for job in every[::3]:
        for rows in (job.runs, job.act_rows, job.trials, job.marks, job.attempts, job.look_findings):
            for row in rows.order_by("pk")[:1]:
                withdrawal = type(row).withdrawal.related
                withdrawal.related_model._default_manager.get_or_create(
                    **{withdrawal.field.name: row}, defaults={"by": lead}
                )
        for look in job.region_looks.order_by("pk")[:1]:
            type(look).objects.create(job=job, region=look.region, clear=not look.clear, by=lead, at=timezone.now())
    said = {"check_id": "stress", "words": "Snow after 20 min.", "minutes": 20, "back_to": "memory"}
    for number, near in enumerate(([], [{"designator": "U14", "why": "next to U13"}])):
        at = timezone.now() + timedelta(minutes=number)
        LateFault.objects.create(job=every[-1], by=lead, at=at, suspects=near, **said)
    found = with_standing(Job.objects.all())
    assert len(found) == Job.objects.count() > 20
    for job in found:
        assert counted(job) == recounted(job), job.label
    # nothing that could be counted is missing from the demo shop
    told = [recounted(job) for job in found]
    assert [name for name in told[0] if not any(entry[name] for entry in told)] == []


def test_no_jobs_ask_nothing(django_assert_num_queries, db):
    with django_assert_num_queries(0):
        assert with_standing([]) == []


def test_the_job_says_whether_its_proof_has_begun(demo, technician):
    def asked(job, what=""):
        return technician.get(f"/api/v1/jobs/{job.pk}{what}").json()

    told = {True: 0, False: 0}
    every = Job.objects.filter(closed_at=None).order_by("pk")
    worked = [job for job in every if job.act_rows.exists() or job.prooflog_rows.exists()]
    for job in [*worked, *[job for job in every if job not in worked][:4]]:
        begun, proof = asked(job)["proof_begun"], asked(job, "/proof")
        assert begun == bool(proof["since"] or proof["logs"]), job
        told[begun] += 1
    assert min(told.values()) > 0, "the demo shop shows one of the two alone"
