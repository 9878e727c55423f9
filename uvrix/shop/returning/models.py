"""A card going back: how, with what words, and what became of it. Rows are added, never changed."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job, JobRow


class Return(JobRow):
    """The card left, or stays as a donor: what was found and done in plain words, what is weak, price, why no fix.

    `way` is parcel, collected or donor; `no_fix` is empty where it was repaired.
    """

    way = models.CharField(max_length=10)
    tracking = models.CharField(max_length=80, blank=True)
    found = models.TextField()
    done = models.TextField(blank=True)
    handling = models.TextField(blank=True)
    no_fix = models.CharField(max_length=400, blank=True)
    price = models.FloatField(null=True)
    warranty_days = models.PositiveIntegerField(default=0)


class Comeback(JobRow):
    """A visit that follows from an earlier one, and its cause once it is known; the newest counts."""

    of = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="comebacks")
    cause = models.CharField(max_length=12, blank=True)
    words = models.CharField(max_length=400, blank=True)


class FollowUp(JobRow):
    """A date on which to ask the customer how the card is; done when somebody did."""

    due = models.DateField()
    done_at = models.DateTimeField(null=True)
    done_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    words = models.CharField(max_length=200, blank=True)


class ReturnSettings(models.Model):
    """What the shop grants and asks for: days of warranty, days until the customer is asked; the newest counts."""

    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
