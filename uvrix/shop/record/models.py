"""Notes. Rows are added, never changed; a later one corrects a former by naming it."""

from __future__ import annotations

from django.db import models

from uvrix.shop.jobs.models import JobRow, holds_index


class Note(JobRow):
    """Something worth remembering; `corrects` names the note, or any event of the timeline, that it puts right."""

    text = models.CharField(max_length=2000)
    step = models.CharField(max_length=8, blank=True)
    corrects = models.CharField(max_length=40, blank=True)

    class Meta(JobRow.Meta):
        indexes = [holds_index("text")]
