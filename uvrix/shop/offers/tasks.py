"""What the worker does for letters."""

from __future__ import annotations

from uuid import UUID

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from uvrix.shop.offers.services import deliver

# About a day of tries, further and further apart.
PATIENT = RetryStrategy(max_attempts=12, wait=20, exponential_wait=2)


@app.task(retry=PATIENT, pass_context=False)
def send_letter(message: str, origin: str) -> None:
    """A letter to the mail server; tried again where it does not take it."""
    deliver(UUID(message), origin)
