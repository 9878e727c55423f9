"""Who has a job's page open."""

from __future__ import annotations

from django.db import models
from django.db.models.functions import Now

from uvrix.shop.accounts.models import User


class Presence(models.Model):
    """Somebody whose browser shows a job, or showed it a moment ago; `job` is its number."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    job = models.BigIntegerField()
    at = models.DateTimeField(db_default=Now())

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "user"], name="once_a_job")]
