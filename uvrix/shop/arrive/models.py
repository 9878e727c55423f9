"""Symptoms and what was tried. Rows are added, never changed; ids are the client's."""

from __future__ import annotations

import uuid

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job


class Symptom(models.Model):
    """What the shop sees beside the customer's words: when it began, how often and when it shows. The newest counts."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="symptoms")
    seen = models.CharField(max_length=400, blank=True)
    began = models.CharField(max_length=200, blank=True)
    often = models.CharField(max_length=8)
    conditions = models.JSONField(default=list)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class Trial(models.Model):
    """A cell of the elimination matrix that was tried (core.arrive.elimination)."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="trials")
    cell = models.CharField(max_length=40)
    shows = models.BooleanField()
    tries = models.PositiveIntegerField()
    note = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class TrialWithdrawal(models.Model):
    """A trial that was entered by mistake; it stays in the record and does not count."""

    trial = models.OneToOneField(Trial, on_delete=models.PROTECT, related_name="withdrawal")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


class Reproduction(models.Model):
    """The symptom called up on the bench: under which load, for how long, what came of it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="reproductions")
    load = models.CharField(max_length=200)
    minutes = models.FloatField()
    outcome = models.CharField(max_length=400)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]
