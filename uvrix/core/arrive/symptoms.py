"""Kinds of symptoms, so that jobs with the same one find each other."""

from __future__ import annotations

from collections.abc import Mapping

from uvrix.language import gettext

KINDS: Mapping[str, str] = {
    "dead": gettext("no sign of life"),
    "trips": gettext("the computer switches off at once"),
    "not-listed": gettext("not listed on the bus"),
    "no-picture": gettext("listed, no picture"),
    "driver": gettext("picture, driver does not load"),
    "artefacts": gettext("artefacts"),
    "hangs": gettext("hangs or restarts under load"),
    "slow": gettext("clocks stay low"),
    "hot": gettext("runs hot, fans loud"),
    "output": gettext("one output dead"),
    "burnt": gettext("smoke, smell, burn marks"),
    "other": gettext("something else"),
}
