"""What was done to find a short. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.jobs.models import JobRow
from uvrix.shop.pictures.models import Picture


class Injection(JobRow):
    """A low voltage was fed into a rail: volts measured at the board, amperes that flowed, at which point or wire."""

    rail = models.CharField(max_length=64)
    point = models.CharField(max_length=64, blank=True)
    wire = models.BooleanField(default=False)
    volts = models.FloatField()
    amps = models.FloatField()
    note = models.CharField(max_length=200, blank=True)


class Thermal(JobRow):
    """A thermal picture of an injection, cut to the board and seen from straight above; the warm spot found on it."""

    injection = models.ForeignKey(Injection, on_delete=models.PROTECT, related_name="thermals")
    side = models.CharField(max_length=5)
    taken = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    picture = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    x_mm = models.FloatField(null=True)
    y_mm = models.FloatField(null=True)


class Glow(JobRow):
    """Where it glowed: clicked on the board. The newest of an injection counts."""

    injection = models.ForeignKey(Injection, on_delete=models.PROTECT, related_name="glows")
    side = models.CharField(max_length=5)
    x_mm = models.FloatField()
    y_mm = models.FloatField()


class TakenOff(JobRow):
    """A part was taken off for the short; `rails` are those that were shorted then. Its promise says when it is on."""

    part = models.CharField(max_length=64)
    rails = models.JSONField(default=list)
    note = models.CharField(max_length=200, blank=True)


class CutOut(JobRow):
    """Carbonised layers were cut out; the phases named stay empty for good."""

    rail = models.CharField(max_length=64)
    phases = models.JSONField(default=list)
    note = models.CharField(max_length=200, blank=True)
