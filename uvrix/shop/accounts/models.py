"""People and what they are in the shop."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.db.models.functions import Now

from uvrix.shop.config.roles import Role


class User(AbstractUser):
    """A person who signs in; never deleted, since the history names them."""

    role = models.CharField(max_length=20, choices=Role.choices, default=Role.TECHNICIAN)
    # what was given in their name before (a phone that joined a job) ends with it
    signed_out_at = models.DateTimeField(null=True)

    @property
    def shown_name(self) -> str:
        """How the history names the person."""
        return self.get_full_name() or self.username


class AccountEvent(models.Model):
    """Something that was done to a person's account, and by whom; `by` is empty for what the person did alone."""

    user = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="events")
    words = models.CharField(max_length=200)
    by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]


class Invitation(models.Model):
    """A one-time link by which a person chooses their own name and password; only its hash is kept.

    With a `user` it is for somebody who is known, to choose a new password.
    """

    token_hash = models.CharField(max_length=64, unique=True)
    role = models.CharField(max_length=20, choices=Role.choices)
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    accepted_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="invitations")
    user = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="recoveries")


class AuditEntry(models.Model):
    """A change over the API, a refusal for want of a right, or data taken along (accounts.audit); never changed.

    `route` is the address's name, `job` the number of the job in it, `address` where it was asked from.
    """

    at = models.DateTimeField(auto_now_add=True)
    user = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    method = models.CharField(max_length=8)
    route = models.CharField(max_length=60)
    path = models.CharField(max_length=300)
    job = models.BigIntegerField(null=True)
    status = models.PositiveSmallIntegerField()
    address = models.CharField(max_length=45, blank=True)
    request = models.CharField(max_length=64, blank=True)

    class Meta:
        ordering = ["-pk"]
        indexes = [
            models.Index(fields=["user", "-id"]),
            models.Index(fields=["job", "-id"]),
            models.Index(fields=["at"]),
        ]


class EntrySeen(models.Model):
    """What an entry's id was used for, as a hash of address and body: another body is not dropped in silence."""

    id = models.UUIDField(primary_key=True)
    digest = models.BinaryField()
    at = models.DateTimeField(db_default=Now(), db_index=True)

    class Meta:
        db_table = "jobs_entryseen"  # where it was kept at first
