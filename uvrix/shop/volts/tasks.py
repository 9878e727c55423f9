"""What the worker does for Volts."""

from __future__ import annotations

from procrastinate.contrib.django import app

from uvrix.shop.volts.supply import switch_off_forgotten


@app.periodic(cron="* * * * * */15")
@app.task(queueing_lock="forgotten-outputs", lock="forgotten-outputs")
def switch_off_forgotten_outputs(timestamp: int) -> None:
    """Four times a minute: outputs of bench supplies that no page shows any more."""
    switch_off_forgotten()
