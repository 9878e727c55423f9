"""What came off a job's card and what went on again. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.jobs.models import JobRow


class TeardownDone(JobRow):
    """A step done; `step_as` is the step as the recipe had it then, so that a changed recipe forgets nothing."""

    at_the_card = True

    step = models.CharField(max_length=64)
    way = models.CharField(max_length=3)
    count = models.PositiveSmallIntegerField()
    note = models.CharField(max_length=200, blank=True)
    step_as = models.JSONField()


class PasteOrPad(JobRow):
    """What lies between the cooler and what it cools (core.teardown.materials), `way` off as found, on as fitted."""

    at_the_card = True

    way = models.CharField(max_length=3)
    cooled = models.CharField(max_length=16)
    material = models.CharField(max_length=8)
    name = models.CharField(max_length=80, blank=True)
    thickness_mm = models.FloatField(null=True)
    state = models.CharField(max_length=8, blank=True)
    reused = models.BooleanField(default=False)
