"""What came off a job's card and what went on again. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.jobs.models import JobRow


class TeardownDone(JobRow):
    """A step done; `step_as` is the step as the recipe had it then, so that a changed recipe forgets nothing."""

    step = models.CharField(max_length=64)
    way = models.CharField(max_length=3)
    count = models.PositiveSmallIntegerField()
    note = models.CharField(max_length=200, blank=True)
    step_as = models.JSONField()
