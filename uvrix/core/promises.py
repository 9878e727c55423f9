"""What is owed before a card may leave: the kinds of promises, in the words of the trade."""

from __future__ import annotations

from collections.abc import Mapping

from uvrix.language import gettext

KINDS: Mapping[str, str] = {
    "part-off": gettext("part left off"),
    "wire-on": gettext("wire to remove"),
    "coil-lifted": gettext("coil lifted"),
    "loan": gettext("on loan"),
    "message": gettext("message owed"),
    "flush": gettext("to flush"),
    "together": gettext("to put together again"),
    "other": gettext("something else"),
}
# What a person may promise by hand; the others come from what was done.
BY_HAND = ("part-off", "wire-on", "coil-lifted", "loan", "message", "other")
