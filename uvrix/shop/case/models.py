"""What follows from a job's thread, kept until something changes."""

from __future__ import annotations

from django.db import models

from uvrix.shop.jobs.models import Job


class JobTold(models.Model):
    """The gist of a job's case (answers.gist); null where something changed since it was last read.

    `version` grows with every change: what was made of rows that were read before one is not kept after it.

    Not a column of the job: its row carries indexes for searching, and would be written anew at every capture.
    """

    job = models.OneToOneField(Job, on_delete=models.CASCADE, primary_key=True, related_name="told_row")
    content = models.JSONField(null=True)
    version = models.BigIntegerField(default=0)
