"""Announced parcels."""

from __future__ import annotations

import uuid

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel


class ExpectedParcel(models.Model):
    """A parcel that was announced; `job` is what it became when it came, `called_off_at` where it will not come."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    customer = models.CharField(max_length=120)
    contact = models.CharField(max_length=200, blank=True)
    complaint = models.TextField(blank=True)
    serial = models.CharField(max_length=80, blank=True)
    model = models.ForeignKey(BoardModel, null=True, on_delete=models.PROTECT, related_name="+")
    reference = models.CharField(max_length=80, blank=True)
    due = models.DateField()
    express = models.BooleanField(default=False)
    announced_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    announced_at = models.DateTimeField()
    job = models.OneToOneField(Job, null=True, on_delete=models.PROTECT, related_name="parcel")
    called_off_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    called_off_at = models.DateTimeField(null=True)
    why = models.CharField(max_length=200, blank=True)

    class Meta:
        indexes = [models.Index(fields=["due"], condition=models.Q(job=None), name="parcels_to_come")]
