"""What the worker does for accounts."""

from __future__ import annotations

from procrastinate.contrib.django import app

from uvrix.shop.accounts.audit import forget_old


@app.periodic(cron="50 2 * * *")
@app.task(queueing_lock="forget-old-audit", lock="forget-old-audit")
def forget_old_audit(timestamp: int) -> None:
    """Every night: what is older than the audit reaches."""
    forget_old()
