"""What was done to find a short. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.acts.models import Act
from uvrix.shop.jobs.models import JobRow
from uvrix.shop.pictures.models import Picture


class Injection(JobRow):
    """A low voltage was fed into a rail: volts measured at the board, amperes that flowed, at which point.

    `lead` was soldered on for it. `advised_v` is what was advised at most where it was fed with more, on purpose.
    """

    at_the_card = True

    rail = models.CharField(max_length=64)
    point = models.CharField(max_length=64, blank=True)
    lead = models.OneToOneField(Act, null=True, on_delete=models.PROTECT, related_name="injection")
    volts = models.FloatField()
    amps = models.FloatField()
    advised_v = models.FloatField(null=True)
    note = models.CharField(max_length=200, blank=True)


class Thermal(JobRow):
    """A thermal picture of an injection, cut to the board and seen from straight above; the warm spot found on it."""

    at_the_card = True

    injection = models.ForeignKey(Injection, on_delete=models.PROTECT, related_name="thermals")
    side = models.CharField(max_length=5)
    taken = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    picture = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    x_mm = models.FloatField(null=True)
    y_mm = models.FloatField(null=True)


class Glow(JobRow):
    """Where it glowed: clicked on the board; without a side nothing did. The newest of an injection counts."""

    at_the_card = True

    injection = models.ForeignKey(Injection, on_delete=models.PROTECT, related_name="glows")
    side = models.CharField(max_length=5, blank=True)
    x_mm = models.FloatField()
    y_mm = models.FloatField()
