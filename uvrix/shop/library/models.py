"""Board models and their editions."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User


class BoardModel(models.Model):
    """A printed-circuit layout and revision; what is known of it stands in its newest edition."""

    slug = models.CharField(max_length=64, unique=True)
    name = models.CharField(max_length=80)
    revision = models.CharField(max_length=80, blank=True)
    newest = models.ForeignKey("BoardEdition", null=True, on_delete=models.PROTECT, related_name="+")

    def __str__(self) -> str:
        return f"{self.name}, revision {self.revision}" if self.revision else self.name


class BoardEdition(models.Model):
    """One imported `.board.json`, as it came; a later edition never changes an earlier one."""

    model = models.ForeignKey(BoardModel, on_delete=models.PROTECT, related_name="editions")
    number = models.PositiveIntegerField()
    text = models.TextField()
    sha256 = models.CharField(max_length=64)
    added_by = models.ForeignKey(User, on_delete=models.PROTECT)
    added_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["model", "number"], name="one_number_an_edition")]
        ordering = ["number"]
