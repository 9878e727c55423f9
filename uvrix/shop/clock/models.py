"""Time, worth, tasks."""

from __future__ import annotations

from datetime import datetime

from django.db import models
from django.utils import timezone

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Entered, JobRow


class ClockSpan(JobRow):
    """Someone at work on a job's step; open while `ended_at` is null. Its newest correction says what it really was."""

    step = models.CharField(max_length=8)
    ended_at = models.DateTimeField(null=True)

    class Meta(JobRow.Meta):
        constraints = [
            models.UniqueConstraint(fields=["by"], condition=models.Q(ended_at=None), name="one_clock_a_person")
        ]

    @property
    def minutes(self) -> float:
        """Minutes worked; what was said of it, else by the clock, up to now where it still runs."""
        if said := list(self.corrections.all()):
            return said[-1].minutes
        until: datetime = self.ended_at or timezone.now()
        return (until - self.at).total_seconds() / 60


class ClockCorrection(models.Model):
    """How long a span really was, by who worked; the newest counts."""

    span = models.ForeignKey(ClockSpan, on_delete=models.PROTECT, related_name="corrections")
    minutes = models.FloatField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]


class JobWorth(JobRow):
    """What the card is worth repaired, and the technician's own chance and minutes where given. The newest counts."""

    value = models.FloatField()
    chance = models.FloatField(null=True)
    minutes = models.FloatField(null=True)
    parts = models.FloatField(default=0.0)
    note = models.CharField(max_length=200, blank=True)


class Task(JobRow):
    """Something that other hands can do on a job."""

    words = models.CharField(max_length=200)
    taken_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    taken_at = models.DateTimeField(null=True)
    done_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    done_at = models.DateTimeField(null=True)

    class Meta(JobRow.Meta):
        indexes = [models.Index(fields=["at"], condition=models.Q(done_at=None), name="tasks_to_do")]


class MoneyEdition(Entered):
    """What an hour costs, what share of a card's value may go into it, how the shop writes; the newest counts."""

    currency = models.CharField(max_length=12)
    hour = models.FloatField()
    share = models.FloatField()
    dates = models.CharField(max_length=12, default="day-month")
    decimal = models.CharField(max_length=8, default="point")
