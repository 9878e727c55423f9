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


class Edition(models.Model):
    """One imported file, as it came; a later edition never changes an earlier one."""

    number = models.PositiveIntegerField()
    text = models.TextField()
    sha256 = models.CharField(max_length=64)
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        abstract = True
        ordering = ["number"]


class BoardEdition(Edition):
    """One `.board.json` of a model."""

    model = models.ForeignKey(BoardModel, on_delete=models.PROTECT, related_name="editions")

    class Meta(Edition.Meta):
        constraints = [models.UniqueConstraint(fields=["model", "number"], name="one_number_an_edition")]


class Reader(models.Model):
    """A taught reader: what the shop's own tester writes."""

    slug = models.SlugField(max_length=80, unique=True)
    name = models.CharField(max_length=80)
    newest = models.ForeignKey("ReaderEdition", null=True, on_delete=models.PROTECT, related_name="+")


class ReaderEdition(Edition):
    """One `.reader.json` of a reader."""

    reader = models.ForeignKey(Reader, on_delete=models.PROTECT, related_name="editions")

    class Meta(Edition.Meta):
        constraints = [models.UniqueConstraint(fields=["reader", "number"], name="one_number_a_reader_edition")]


class Package(models.Model):
    """A package's ball map, as its CSV came."""

    name = models.CharField(max_length=80, unique=True)
    text = models.TextField()
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)
