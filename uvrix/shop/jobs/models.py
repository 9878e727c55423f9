"""Customers, cards, jobs."""

from __future__ import annotations

import uuid
from datetime import datetime
from functools import cached_property
from typing import Any, ClassVar, TypeVar, cast

from django.contrib.postgres.indexes import GinIndex, GistIndex, OpClass
from django.db import models
from django.db.models import QuerySet
from django.db.models.functions import Upper

from uvrix.core.boards.model import Side
from uvrix.core.boards.views import Orientation
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.standing import Standing
from uvrix.shop.library.models import BoardModel

# Jobs, cards and the one customer of Practice are numbered from here on: a shop opens no nine million jobs. Whatever
# adds up jobs of the shop asks for those below, by an index that is there already.
FIRST_PRACTICE = 9_000_000


def holds_index(field: str) -> models.Index:
    """For a text that is searched: finds the rows that hold some letters, whatever their case."""
    return GinIndex(OpClass(Upper(field), name="gin_trgm_ops"), name=f"{field}_holds")


def like_index(field: str) -> models.Index:
    """For a text that is searched: gives the rows whose text is spelled most nearly alike, the nearest first."""
    return GistIndex(fields=[field], opclasses=["gist_trgm_ops"], name=f"{field}_like")


Row = TypeVar("Row", bound=models.Model)


def of_the_shop(found: QuerySet[Row], job: str = "job") -> QuerySet[Row]:
    """The rows whose job (or card, or customer) is the shop's own and none of Practice.

    `job` names the column: `pk` where the rows are jobs, cards or customers themselves.
    """
    return found.filter(**{f"{job}__lt": FIRST_PRACTICE})


class SpelledWord(models.Model):
    """A word that complaints, notes or customers' names hold, in small letters; typing errors are put right by it.

    Kept by the database: a trigger on each of those columns adds what is not there yet, and nothing is taken out. A
    word may stand twice where two people brought it at once: if it had to be unique, one would wait for the other.
    """

    word = models.CharField(max_length=80, db_index=True)

    class Meta:
        indexes = [like_index("word")]


class Customer(models.Model):
    """Whose card it is: one person or firm by name and contact together, since names alone are borne by several."""

    name = models.CharField(max_length=120)
    contact = models.CharField(max_length=200, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [holds_index("name")]
        constraints = [models.UniqueConstraint(Upper("name"), Upper("contact"), name="one_customer_a_name_and_contact")]


class Card(models.Model):
    """One physical graphics card; it may come back."""

    serial = models.CharField(max_length=80, unique=True)
    model = models.ForeignKey(BoardModel, on_delete=models.PROTECT, related_name="cards")

    class Meta:
        indexes = [holds_index("serial"), like_index("serial")]


class WhoseMove(models.TextChoices):
    """Who must do something before the job goes on."""

    HANDS = "hands", gettext("Your hands")
    CUSTOMER = "customer", gettext("Customer’s word")
    PART = "part", gettext("A part")
    COURIER = "courier", gettext("Courier")


class Job(models.Model):
    """One visit of one card to the shop; its number is the primary key.

    `located` is derived from the job's memory runs and its board model, and can be made anew from them.
    """

    entry = models.UUIDField(unique=True)
    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="jobs")
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="jobs")
    complaint = models.TextField()
    place = models.CharField(max_length=20, blank=True)
    express = models.BooleanField(default=False)
    move = models.CharField(max_length=12, choices=WhoseMove.choices, default=WhoseMove.HANDS)
    waits_for = models.CharField(max_length=200, blank=True)
    due = models.DateField(null=True, blank=True)
    orientation_side = models.CharField(max_length=5, default="front")
    orientation_turns = models.PositiveSmallIntegerField(default=0)
    located = models.JSONField(null=True)
    opened_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    opened_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True, blank=True)
    warranty_until = models.DateField(null=True, blank=True)
    standing: Standing  # where standing.with_standing() read it
    told: dict[str, Any] | None = None  # where case.answers.with_told() read it

    class Meta:
        indexes = [
            models.Index(fields=["closed_at", "move"]),
            holds_index("complaint"),
        ]

    @property
    def orientation(self) -> Orientation:
        """How the card lies on the bench: the side that faces the technician, and its quarter turns."""
        return Orientation(cast("Side", self.orientation_side), self.orientation_turns)

    @property
    def practice(self) -> bool:
        """Whether it is one of Practice: a virtual card."""
        return self.pk >= FIRST_PRACTICE

    @property
    def label(self) -> str:
        """The number as printed on the label; PR and its own number for one of Practice."""
        return f"PR-{self.pk - FIRST_PRACTICE:04d}" if self.practice else f"J-{self.pk:04d}"

    @cached_property
    def board_since(self) -> datetime | None:
        """From when the card has lived on another board than it came on; None where it is still on that one."""
        return self.jobboard_rows.order_by("-at").values_list("at", flat=True).first()


class JobRow(models.Model):
    """Something that happened on a job, who entered it and when."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="%(class)s_rows")
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    # Whether it is measured on the card or done to it: no such row is new once the card left (jobs.leaving).
    at_the_card: ClassVar[bool] = False

    class Meta:
        abstract = True
        ordering = ["at", "pk"]


class Entered(models.Model):
    """Something that was entered, by whom and when, the time being the server's."""

    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        abstract = True


class Withdrawal(Entered):
    """Something entered by mistake: it stays in the record and does not count.

    Its row names what it withdraws by a one-to-one key with the related name `withdrawal`.
    """

    class Meta:
        abstract = True


class JobCustomer(JobRow):
    """A job was given to another customer, by the lead: two were one, or one was two."""

    before = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="+")
    after = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="+")


class JobBoard(JobRow):
    """Core and memory of a job's card moved to another board, and the job went with them: from card to card."""

    before = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="+")
    after = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="+")


class JobChange(JobRow):
    """Whose move it is, where the card lies, how pressing it is: what was changed, each as [before, after]."""

    changes = models.JSONField()


class SavedFilter(models.Model):
    """What a person wants to see of the shelf, under a name of their own."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="filters")
    name = models.CharField(max_length=40)
    text = models.CharField(max_length=200, blank=True)
    board_model = models.CharField(max_length=64, blank=True)
    move = models.CharField(max_length=12, blank=True)
    express = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "name"], name="one_filter_a_name")]
