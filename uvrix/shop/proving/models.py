"""What proves a card. Rows are added, never changed; evidence older than the last rework does not count any more."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import JobRow


class ProofLog(JobRow):
    """A log of the test computer: `figures` one list a name, `phase` before or after the repair.

    `celsius_loaded` and `mhz_loaded` are its figures under load (core.proving.judge.under_load): what other cards of
    the model are held against.
    """

    at_the_card = True

    name = models.CharField(max_length=120)
    load = models.CharField(max_length=120, blank=True)
    phase = models.CharField(max_length=6)
    seconds = models.JSONField()
    figures = models.JSONField()
    celsius_loaded = models.FloatField(null=True)
    mhz_loaded = models.FloatField(null=True)


class CardIdentity(JobRow):
    """What a script on the test computer said of the card (core.proving.identity)."""

    at_the_card = True

    document = models.JSONField()
    phase = models.CharField(max_length=6)


class CheckSaid(JobRow):
    """What a person said of a check of the protocol; the newest counts. `off_since` of a start from cold.

    `part` is the one of a check's parts that is meant; `completes` is false while others of them are still to come.
    """

    at_the_card = True

    check_id = models.CharField(max_length=64)
    part = models.CharField(max_length=80, blank=True)
    completes = models.BooleanField(default=True)
    passed = models.BooleanField()
    minutes = models.FloatField(null=True)
    off_since = models.DateTimeField(null=True)
    note = models.CharField(max_length=400, blank=True)


class ProofFigure(JobRow):
    """A figure that no log holds: a score, the noise; the newest of each counts."""

    at_the_card = True

    what = models.CharField(max_length=8)
    phase = models.CharField(max_length=6)
    value = models.FloatField()
    note = models.CharField(max_length=120, blank=True)


class LateFault(JobRow):
    """A fault that came while the card was proven: at which check, how far in, which step it goes back to.

    `suspects` are those named by the last rework at that time, {designator, why}.
    """

    at_the_card = True

    check_id = models.CharField(max_length=64)
    words = models.CharField(max_length=400)
    minutes = models.FloatField(null=True)
    back_to = models.CharField(max_length=8)
    suspects = models.JSONField(default=list)


class LogColumns(models.Model):
    """Which column of the shop's logs is which, our name to the header's; the newest counts."""

    columns = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]


class ShopProtocol(models.Model):
    """The shop's protocol for models that have none of their own; the newest counts."""

    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
