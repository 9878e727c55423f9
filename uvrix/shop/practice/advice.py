"""Whether the advice is shown on a job of Practice: always, once it was asked for, or not before the end."""

from __future__ import annotations

from uvrix.shop.case.answers import hides_advice
from uvrix.shop.jobs.models import Job
from uvrix.shop.practice.models import Help, PracticeJob


@hides_advice
def hidden(job: Job) -> bool:
    """Whether next steps and suspects are kept back; never on a job of the shop."""
    if not job.practice:
        return False
    row = PracticeJob.objects.filter(pk=job.pk).only("help", "shown", "ended").first()
    return row is not None and row.help != Help.ON and not row.shown and not row.ended
