"""Promises made by hand, and how they ended. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job, JobRow
from uvrix.shop.pictures.models import Picture


class Promise(JobRow):
    """Something owed before the card may leave; `part` is a designator.

    Its place is in millimetres of the board, or in pixels of a photograph where none is drawn.
    """

    kind = models.CharField(max_length=12)
    words = models.CharField(max_length=200)
    part = models.CharField(max_length=80, blank=True)
    picture = models.ForeignKey(Picture, null=True, on_delete=models.PROTECT, related_name="+")
    side = models.CharField(max_length=5, blank=True)
    x_mm = models.FloatField(null=True)
    y_mm = models.FloatField(null=True)
    x_px = models.FloatField(null=True)
    y_px = models.FloatField(null=True)


class PromiseKept(models.Model):
    """What was owed was done."""

    promise = models.OneToOneField(Promise, on_delete=models.PROTECT, related_name="kept")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


class Waiver(models.Model):
    """The lead lets a card go although something is owed, and says why; `key` names what (queries.Owed)."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="waivers")
    key = models.CharField(max_length=80)
    reason = models.CharField(max_length=400)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="one_waiver_a_debt")]
