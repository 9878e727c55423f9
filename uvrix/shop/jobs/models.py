"""Customers, cards, jobs."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.library.models import BoardModel


class Customer(models.Model):
    """Whose card it is."""

    name = models.CharField(max_length=120)
    contact = models.CharField(max_length=200, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)


class Card(models.Model):
    """One physical graphics card; it may come back."""

    serial = models.CharField(max_length=80, unique=True)
    model = models.ForeignKey(BoardModel, on_delete=models.PROTECT, related_name="cards")


class WhoseMove(models.TextChoices):
    """Who must do something before the job goes on."""

    HANDS = "hands", "Your hands"
    CUSTOMER = "customer", "Customer’s word"
    PART = "part", "A part"
    COURIER = "courier", "Courier"


class Job(models.Model):
    """One visit of one card to the shop; its number is the primary key.

    `located` is derived from the job's memory runs and its board model, and can be made anew from them.
    """

    entry = models.UUIDField(unique=True)
    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="jobs")
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="jobs")
    complaint = models.TextField()
    place = models.CharField(max_length=20, blank=True)
    express = models.BooleanField(default=False)
    move = models.CharField(max_length=12, choices=WhoseMove.choices, default=WhoseMove.HANDS)
    waits_for = models.CharField(max_length=200, blank=True)
    due = models.DateField(null=True, blank=True)
    lie_side = models.CharField(max_length=5, default="front")
    lie_turns = models.PositiveSmallIntegerField(default=0)
    located = models.JSONField(null=True)
    opened_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    opened_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        indexes = [models.Index(fields=["closed_at", "move"])]

    @property
    def label(self) -> str:
        """The number as printed on the label."""
        return f"J-{self.pk:04d}"
