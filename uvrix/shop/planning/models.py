"""Attempts and habits. Rows are added, never changed; a later one corrects a former by naming it."""

from __future__ import annotations

import uuid

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Entered, Job, Withdrawal


class Attempt(models.Model):
    """Something that was tried about a finding, how long it took and what came of it; `id` is made by the client."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="attempts")
    do = models.CharField(max_length=20)
    outcome = models.CharField(max_length=5)
    minutes = models.FloatField()
    note = models.CharField(max_length=400, blank=True)
    kind = models.CharField(max_length=20)
    group = models.CharField(max_length=20)
    # designators of the finding that it was about, joined by commas: what belongs together
    chips = models.CharField(max_length=400)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(db_index=True)

    class Meta:
        ordering = ["at"]
        indexes = [models.Index(fields=["job", "chips"])]


class AttemptWithdrawal(Withdrawal):
    """An attempt that was entered by mistake; it stays in the record and does not count."""

    attempt = models.OneToOneField(Attempt, on_delete=models.PROTECT, related_name="withdrawal")
    at = models.DateTimeField(auto_now_add=True, db_index=True)


class HabitsEdition(Entered):
    """What the shop set: school, minutes, risks, shares (core.planning.habits); the newest counts."""

    habits = models.JSONField()

    class Meta:
        ordering = ["pk"]
