"""Pictures."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User


class Picture(models.Model):
    """A picture without its metadata, stored once by what it contains."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    kind = models.CharField(max_length=4, choices=[("jpeg", "JPEG"), ("png", "PNG")])
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    stored_as = models.CharField(max_length=120)
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)
