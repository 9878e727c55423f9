"""What was said of hypotheses. Rows are added, never changed; the newest of a job and cause counts."""

from __future__ import annotations

from django.db import models

from uvrix.shop.jobs.models import JobRow


class HypothesisWord(JobRow):
    """A hypothesis is open, ruled out or confirmed; `by_what` says which measurement or look settled it, at `step`."""

    key = models.CharField(max_length=120)
    cause = models.CharField(max_length=120)
    state = models.CharField(max_length=10)
    by_what = models.CharField(max_length=200, blank=True)
    step = models.CharField(max_length=8, blank=True)

    class Meta(JobRow.Meta):
        indexes = [models.Index(fields=["state", "key"])]
