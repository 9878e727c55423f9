"""What the worker does for the shop's data."""

from __future__ import annotations

import logging

from django.core.management import CommandError, call_command
from django.utils import timezone
from procrastinate.contrib.django import app

from uvrix.shop.archive.backups import make_if_due

LOG = logging.getLogger(__name__)
# A worker that has said nothing for this long is gone.
SILENT_S = 60.0


@app.periodic(cron="*/20 * * * *")
@app.task(queueing_lock="backup", lock="backup")
def back_up_where_due(timestamp: int) -> None:
    """Three times an hour: a backup where the newest is a day old."""
    make_if_due(timezone.now())


@app.periodic(cron="30 2 * * *")
@app.task(queueing_lock="check-store", lock="check-store")
def check_the_store(timestamp: int) -> None:
    """Every night: every kept file against its hash; what is missing or damaged is written down."""
    try:
        call_command("check_store")
    except CommandError as error:
        LOG.warning("%s Bring them back from a backup.", error)


@app.periodic(cron="* * * * *")
@app.task(queueing_lock="take-up-again", pass_context=False)
async def take_up_again(timestamp: int) -> None:
    """Every minute: what a worker that was killed left half done is begun anew; each task is such that it may be."""
    manager = app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=SILENT_S):
        await manager.retry_job(job)
