"""Practice cards as the shop keeps them, and the jobs that are worked on them."""

from __future__ import annotations

import uuid

from django.db import models

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job


class Help(models.TextChoices):
    """Whether the advice is shown."""

    ON = "on", gettext("always shown")
    ON_REQUEST = "on-request", gettext("when asked for")
    OFF = "off", gettext("not before the end")


class PracticeFile(models.Model):
    """A practice card that was made of a job, or came from another shop (docs/formats §19)."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=80, unique=True)
    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]


class PracticeJob(models.Model):
    """A job of Practice: its card, the help that was chosen, how it ended.

    `handed` entries were there when it began. `day` is that of a card of the day. `named`: its person lets the shop see
    whose it is. `debrief` is core.practice.debrief's, as JSON, once it has ended.
    """

    job = models.OneToOneField(Job, on_delete=models.PROTECT, primary_key=True, related_name="practice_row")
    card = models.JSONField()
    source = models.CharField(max_length=12)
    help = models.CharField(max_length=12, choices=Help.choices)
    handed = models.PositiveSmallIntegerField(default=0)
    asked = models.PositiveSmallIntegerField(default=0)
    shown = models.BooleanField(default=False)
    day = models.DateField(null=True)
    named = models.BooleanField(default=False)
    ended = models.CharField(max_length=10, blank=True)
    ended_at = models.DateTimeField(null=True)
    debrief = models.JSONField(null=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["day"])]
