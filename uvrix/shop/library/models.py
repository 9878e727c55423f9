"""Board models and their editions."""

from __future__ import annotations

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.pictures.models import Picture


class BoardModel(models.Model):
    """A printed-circuit layout and revision; what is known of it stands in its newest edition.

    A model without an edition is a board seen for the first time: named, and not drawn yet; it is read by the bench
    plan of the id `plan`, the usual one where that is empty, and `holes` lay its two photographs over each other:
    {"front": {picture, px}, "back": {picture, px}}, three pixels each.
    """

    slug = models.CharField(max_length=64, unique=True)
    name = models.CharField(max_length=80)
    revision = models.CharField(max_length=80, blank=True)
    family = models.CharField(max_length=64, blank=True, db_index=True)
    plan = models.CharField(max_length=64, blank=True)
    holes = models.JSONField(null=True)
    newest = models.ForeignKey("BoardEdition", null=True, on_delete=models.PROTECT, related_name="+")

    def __str__(self) -> str:
        return f"{self.name}, revision {self.revision}" if self.revision else self.name


class BoardPhotograph(models.Model):
    """A photograph of one side of a board, which serves as the board until it is drawn; the newest of a side counts."""

    model = models.ForeignKey(BoardModel, on_delete=models.PROTECT, related_name="pictures")
    side = models.CharField(max_length=5, choices=[("front", "Front"), ("back", "Back")])
    picture = models.ForeignKey(Picture, on_delete=models.PROTECT, related_name="+")
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)


class BenchPlan(models.Model):
    """A bench plan of the shop's own (core.case.generic); the newest of an id counts."""

    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


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
    note = models.CharField(max_length=200, blank=True)

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


class CoreFamily(models.Model):
    """A core family: what every board with one core has in common."""

    slug = models.CharField(max_length=64, unique=True)
    name = models.CharField(max_length=80)
    newest = models.ForeignKey("FamilyEdition", null=True, on_delete=models.PROTECT, related_name="+")


class FamilyEdition(Edition):
    """One `.family.json` of a family."""

    family = models.ForeignKey(CoreFamily, on_delete=models.PROTECT, related_name="editions")

    class Meta(Edition.Meta):
        constraints = [models.UniqueConstraint(fields=["family", "number"], name="one_number_a_family_edition")]


class Recipe(models.Model):
    """How to run this shop's tester on one host, with one build."""

    slug = models.SlugField(max_length=80, unique=True)
    name = models.CharField(max_length=80)
    newest = models.ForeignKey("RecipeEdition", null=True, on_delete=models.PROTECT, related_name="+")
    retired_at = models.DateTimeField(null=True, blank=True)


class RecipeEdition(Edition):
    """One `.recipe.json` of a recipe."""

    recipe = models.ForeignKey(Recipe, on_delete=models.PROTECT, related_name="editions")

    class Meta(Edition.Meta):
        constraints = [models.UniqueConstraint(fields=["recipe", "number"], name="one_number_a_recipe_edition")]


class Package(models.Model):
    """A package's ball map, as its CSV came."""

    name = models.CharField(max_length=80, unique=True)
    text = models.TextField()
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)


class ModelSheet(models.Model):
    """One edition of a sheet that the shop keeps of a model: its teardown recipe, its watchlist. The newest counts."""

    model = models.ForeignKey(BoardModel, on_delete=models.PROTECT, related_name="sheets")
    kind = models.CharField(max_length=12)
    number = models.PositiveIntegerField()
    content = models.JSONField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["model", "kind", "number"], name="one_number_a_sheet_edition")]


class PinoutEdition(models.Model):
    """One edition of the notes on a small chip, by its marking; `job` is where it was learned. The newest counts."""

    key = models.CharField(max_length=80)
    number = models.PositiveIntegerField()
    content = models.JSONField()
    job = models.CharField(max_length=40, blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["key", "number"], name="one_number_a_pinout_edition")]
