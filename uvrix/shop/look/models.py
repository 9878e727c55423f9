"""What was seen. Rows are added, never changed; a later one corrects a former by naming it. Ids are the client's."""

from __future__ import annotations

import uuid

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job, Withdrawal
from uvrix.shop.pictures.models import Picture


class JobPhotograph(models.Model):
    """A photograph of a job's card; `landmarks` are the three pairs of pixels by which it lies over the reference.

    `before` names what it was taken before lifting, `finding` what it shows, `made_from` what it was straightened from.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="photographs")
    picture = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    side = models.CharField(max_length=5, blank=True)
    note = models.CharField(max_length=400, blank=True)
    landmarks = models.JSONField(null=True)
    before = models.CharField(max_length=80, blank=True)
    finding = models.ForeignKey("LookFinding", null=True, on_delete=models.PROTECT, related_name="photographs")
    made_from = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="made")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class RegionLook(models.Model):
    """A region of the board that was looked at and held nothing (`clear`), or is to be looked at again."""

    at_the_card = True

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="region_looks")
    region = models.CharField(max_length=40)
    clear = models.BooleanField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class LookFinding(models.Model):
    """Something seen: its kind, where on the board (millimetres of the front view) or on which photograph (pixels)."""

    at_the_card = True

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="look_findings")
    kind = models.CharField(max_length=20)
    side = models.CharField(max_length=5)
    x_mm = models.FloatField(null=True)
    y_mm = models.FloatField(null=True)
    picture = models.ForeignKey(Picture, null=True, on_delete=models.PROTECT, related_name="+")
    x_px = models.FloatField(null=True)
    y_px = models.FloatField(null=True)
    part = models.CharField(max_length=80, blank=True)
    note = models.CharField(max_length=400, blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class LookFindingWithdrawal(Withdrawal):
    """A finding that was none; it stays in the record and does not count."""

    finding = models.OneToOneField(LookFinding, on_delete=models.PROTECT, related_name="withdrawal")
