"""What happened at the bench. Rows are added, never changed; a later one corrects a former by naming it."""

from __future__ import annotations

import uuid

from django.db import models

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job, Withdrawal
from uvrix.shop.library.models import BoardEdition, ReaderEdition


class ReportFile(models.Model):
    """A tester's report as it came, stored once by what it contains."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    size = models.PositiveBigIntegerField()
    stored_as = models.CharField(max_length=120)
    stored_at = models.DateTimeField(auto_now_add=True)


class MemoryRun(models.Model):
    """One run of a memory tester on a job's card; `id` is made by the client.

    `report` is core.memory.stored's JSON of what was read against `edition` (null where
    the board was not drawn yet); `located` what this run alone says.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="runs")
    number = models.PositiveIntegerField()
    file = models.ForeignKey(ReportFile, on_delete=models.PROTECT, related_name="runs")
    file_name = models.CharField(max_length=200)
    edition = models.ForeignKey(BoardEdition, null=True, on_delete=models.PROTECT, related_name="+")
    reader = models.ForeignKey(ReaderEdition, null=True, on_delete=models.PROTECT, related_name="+")
    condition = models.JSONField(default=list)
    report = models.JSONField()
    located = models.JSONField()
    added_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="one_number_a_run")]
        ordering = ["number"]


class RunWithdrawal(Withdrawal):
    """A run that does not count after all (another card, a slip); the run stays in the record."""

    run = models.OneToOneField(MemoryRun, on_delete=models.PROTECT, related_name="withdrawal")
    reason = models.CharField(max_length=200, blank=True)


class ChipMark(models.Model):
    """A chip confirmed as the one to work on: what was typed, the landmark question and its answer."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="marks")
    designator = models.CharField(max_length=80)
    typed = models.CharField(max_length=80)
    question = models.TextField(blank=True)
    answer = models.CharField(max_length=3, blank=True)
    finding = models.JSONField(null=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


class MarkWithdrawal(Withdrawal):
    """A mark taken back."""

    mark = models.OneToOneField(ChipMark, on_delete=models.PROTECT, related_name="withdrawal")
    reason = models.CharField(max_length=200, blank=True)


class JobBlank(models.Model):
    """What a recipe's blank is for one job, as last entered: the bus index of its card, say."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="blanks")
    name = models.CharField(max_length=80)
    value = models.CharField(max_length=64, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="one_value_a_blank")]
