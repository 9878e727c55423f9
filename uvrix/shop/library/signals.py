"""What the library tells those who build on it."""

from django.dispatch import Signal

# Sent with `model` inside the transaction that gives a board model a new edition.
board_changed = Signal()
