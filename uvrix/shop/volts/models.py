"""What was seen of the powered card beside its readings. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.jobs.models import JobRow


class FirstDraw(JobRow):
    """What the card drew on the supply: amperes at so many volts, with the limit that was set."""

    volts = models.FloatField()
    amps = models.FloatField()
    limit_amps = models.FloatField(null=True)
    note = models.CharField(max_length=200, blank=True)


class Rung(JobRow):
    """How far the card came in a computer: a rung of the detection ladder; `picture_of` says whose picture it is."""

    rung = models.CharField(max_length=8)
    picture_of = models.CharField(max_length=8, blank=True)
    beep = models.CharField(max_length=40, blank=True)
    beep_seconds = models.FloatField(null=True)
    note = models.CharField(max_length=200, blank=True)
