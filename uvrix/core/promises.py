"""What is owed before a card may leave: the kinds of promises, in the words of the trade."""

from __future__ import annotations

from collections.abc import Mapping

KINDS: Mapping[str, str] = {
    "part-off": "part left off",
    "wire-on": "wire to remove",
    "coil-lifted": "coil lifted",
    "loan": "on loan",
    "message": "message owed",
    "flush": "to flush",
    "together": "to put together again",
    "other": "something else",
}
# What a person may promise by hand; the others come from what was done.
BY_HAND = ("part-off", "wire-on", "coil-lifted", "loan", "message", "other")
