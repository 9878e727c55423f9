"""Parts, where they went, values, donors. Rows are added, never changed; where a part is follows from them."""

from __future__ import annotations

import uuid

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Card, Entered, Job, Withdrawal
from uvrix.shop.library.models import BoardModel


class PartEdition(Entered):
    """What is known of a part by its label (core.stock.facts); the newest counts."""

    label = models.CharField(max_length=120)
    number = models.PositiveIntegerField()
    facts = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["label", "number"], name="one_number_a_part_edition")]


class StockMove(models.Model):
    """A part moved or counted (core.stock.life); `id` is made by the client, `due` is when a loan is to come back."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    label = models.CharField(max_length=120, db_index=True)
    do = models.CharField(max_length=12)
    to = models.CharField(max_length=120, blank=True)
    amount = models.FloatField(null=True)
    condition = models.CharField(max_length=12, blank=True)
    due = models.DateField(null=True)
    note = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class PartValue(models.Model):
    """A value or note of a model's part: what was read, from what source (core.stock.values), `of` which donor."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    model = models.ForeignKey(BoardModel, on_delete=models.PROTECT, related_name="part_values")
    designator = models.CharField(max_length=80)
    text = models.CharField(max_length=120)
    source = models.CharField(max_length=10)
    of = models.CharField(max_length=120, blank=True)
    job = models.ForeignKey(Job, null=True, on_delete=models.PROTECT, related_name="part_values")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]
        indexes = [models.Index(fields=["model", "designator"])]


class PartValueWithdrawal(Withdrawal):
    """A value that was none; it stays in the record and does not count."""

    value = models.OneToOneField(PartValue, on_delete=models.PROTECT, related_name="withdrawal")


class Donor(models.Model):
    """A card that gives parts; `job` is the visit under which its rows are kept."""

    card = models.OneToOneField(Card, on_delete=models.PROTECT, related_name="donor")
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="+")
    origin = models.CharField(max_length=200)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


class DonorInspection(models.Model):
    """What an inspection of a card's halves found (core.stock.donors.Inspection); the newest counts."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="inspections")
    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]


class StockSettings(models.Model):
    """What the shop set (core.stock.settings): how lots are read, prices, when to order; the newest counts."""

    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
