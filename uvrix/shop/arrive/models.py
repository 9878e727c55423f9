"""Symptoms and what was tried. Rows are added, never changed; ids are the client's."""

from __future__ import annotations

import uuid

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job, Withdrawal
from uvrix.shop.pictures.models import Picture


class Symptom(models.Model):
    """What the shop sees beside the customer's words: when it began, how often and when it shows. The newest counts."""

    at_the_card = True

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="symptoms")
    seen = models.CharField(max_length=400, blank=True)
    began = models.CharField(max_length=200, blank=True)
    often = models.CharField(max_length=8)
    conditions = models.JSONField(default=list)
    kinds = models.JSONField(default=list)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class Trial(models.Model):
    """A cell of the elimination matrix that was tried (core.arrive.elimination)."""

    at_the_card = True

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


class TrialWithdrawal(Withdrawal):
    """A trial that was entered by mistake; it stays in the record and does not count."""

    trial = models.OneToOneField(Trial, on_delete=models.PROTECT, related_name="withdrawal")


class Reproduction(models.Model):
    """The symptom called up on the bench: under which load, for how long, what came of it."""

    at_the_card = True

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="reproductions")
    load = models.CharField(max_length=200)
    minutes = models.FloatField()
    outcome = models.CharField(max_length=400)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class Intake(models.Model):
    """What was in the parcel: card checked against the ticket, seals, what came, what is missing. The newest counts.

    `warranty` is what became of the question whose a new card with whole seals is (intake.WARRANTY).
    """

    at_the_card = True

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="intakes")
    serial = models.CharField(max_length=80)
    provenance = models.CharField(max_length=12)
    seals = models.CharField(max_length=12)
    warranty = models.CharField(max_length=6, blank=True)
    came_with = models.CharField(max_length=400, blank=True)
    missing = models.CharField(max_length=400, blank=True)
    bare = models.BooleanField(default=False)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class EvidenceFile(models.Model):
    """A file that somebody sent as evidence, as it came, stored once by what it contains."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    size = models.PositiveBigIntegerField()
    stored_as = models.CharField(max_length=120)
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)


class Evidence(models.Model):
    """Something that others say or show of the card, with its source; unproven until the shop has seen it itself."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="evidence")
    kind = models.CharField(max_length=20)
    source = models.CharField(max_length=120)
    text = models.TextField(blank=True)
    picture = models.ForeignKey(Picture, null=True, on_delete=models.PROTECT, related_name="+")
    file = models.ForeignKey(EvidenceFile, null=True, on_delete=models.PROTECT, related_name="+")
    file_name = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class EvidenceWord(models.Model):
    """What the shop found a piece of evidence to be: proven, refuted, or open again. The newest counts."""

    evidence = models.ForeignKey(Evidence, on_delete=models.PROTECT, related_name="words")
    word = models.CharField(max_length=8)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
