"""Readings and what goes with them. Rows are added, never changed; a later reading of a point corrects a former."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import JobRow
from uvrix.shop.pictures.models import Picture


class PowerState(JobRow):
    """How the card stands: off (unplugged and discharged), supply, computer. The newest counts."""

    state = models.CharField(max_length=8)


class PhotoPoint(JobRow):
    """A point clicked on a photograph where no board is drawn; it moves over when one is drawn over that photograph."""

    name = models.CharField(max_length=64)
    side = models.CharField(max_length=5)
    picture = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    x_px = models.FloatField()
    y_px = models.FloatField()

    class Meta(JobRow.Meta):
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="one_point_a_name")]


class Meter(models.Model):
    """A bench meter; `lead_ohms` is what its leads read when held together."""

    name = models.CharField(max_length=40, unique=True)
    lead_ohms = models.FloatField(default=0.0)
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)


class Reading(JobRow):
    """What a meter read; `low` and `high` in the quantity's own unit, both null where it showed over-limit.

    `point` is a point, rail or node of the model, a pair `A/B`, or a point clicked on a photograph.
    """

    point = models.CharField(max_length=130)
    to = models.CharField(max_length=8)
    quantity = models.CharField(max_length=12)
    mode = models.CharField(max_length=12, blank=True)
    text = models.CharField(max_length=40)
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    polarity = models.CharField(max_length=5, blank=True)
    meter = models.ForeignKey(Meter, null=True, on_delete=models.PROTECT, related_name="+")
    condition = models.JSONField(default=list)
    note = models.CharField(max_length=200, blank=True)

    class Meta(JobRow.Meta):
        indexes = [models.Index(fields=["job", "point"])]


class KnownReading(models.Model):
    """A reading of a card that is known to be good; `board` is a model's id, which need not be in the library.

    Rows are added; a wrong one is taken out of the library by the lead and stays in the record.
    """

    board = models.CharField(max_length=64, db_index=True)
    card = models.CharField(max_length=80)
    point = models.CharField(max_length=130)
    to = models.CharField(max_length=8)
    quantity = models.CharField(max_length=12)
    mode = models.CharField(max_length=12, blank=True)
    text = models.CharField(max_length=40)
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    polarity = models.CharField(max_length=5, blank=True)
    meter = models.CharField(max_length=40, blank=True)
    source = models.CharField(max_length=200)
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)
    out_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    out_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["pk"]


class Tick(JobRow):
    """A fuse or input that was looked at by hand on either side; `skipped` says why it was not, where it was not."""

    point = models.CharField(max_length=64)
    skipped = models.CharField(max_length=200, blank=True)
