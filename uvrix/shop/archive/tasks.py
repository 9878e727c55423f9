"""What the worker does for the shop's data."""

from __future__ import annotations

from django.utils import timezone
from procrastinate.contrib.django import app

from uvrix.shop.archive.backups import make_if_due


@app.periodic(cron="*/20 * * * *")
@app.task(queueing_lock="backup", lock="backup")
def back_up_where_due(timestamp: int) -> None:
    """Three times an hour: a backup where the newest is a day old."""
    make_if_due(timezone.now())
