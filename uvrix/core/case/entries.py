"""The entries of a case: what was observed of a card and done to it, as frozen values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal

from uvrix.core.memory.report import Report
from uvrix.core.readings.reading_file import Reading
from uvrix.language import gettext

SYMPTOMS = (
    *("dead", "trips", "not-listed", "no-picture", "driver", "artefacts"),
    *("hangs", "slow", "hot", "output", "burnt", "other"),
)
Power = Literal["off", "supply", "computer"]
POWER: tuple[Power, ...] = ("off", "supply", "computer")
CHANGED = ("computer", "plug", "lead", "card")
ANSWERED = ("ask", "mark", "draw-model")
VERDICTS = ("good", "fixable", "donor")
# What is done, and how it is said of a card's past.
DONE: Mapping[str, str] = {
    "remove": gettext("was taken off"),
    "place": gettext("was placed"),
    "swap": gettext("was swapped"),
    "reball": gettext("was reballed"),
    "renew-joint": gettext("had its joint renewed"),
    "bridge-cleared": gettext("had a bridge cleared"),
    "pad-repaired": gettext("had a pad repaired"),
    "contact-repaired": gettext("was repaired"),
    "clean-pads": gettext("had its pads cleaned"),
    "flushed": gettext("was flushed"),
    "drilled": gettext("was drilled"),
    "wire": gettext("was wired"),
    "solder-lead": gettext("got an injection lead"),
    "unsolder-lead": gettext("lost its injection lead"),
    "lift-coil": gettext("was lifted"),
    "fit-coil": gettext("was fitted again"),
    "cut-layers": gettext("had its layers cut out"),
    "write": gettext("was written"),
    "bake": gettext("was baked in an oven"),
    "cooler-off": gettext("came off"),
    "cooler-on": gettext("went on"),
}
WITHOUT_SITE = frozenset({"cooler-off", "cooler-on"})
# An oven takes the whole card, and not every model names its storage chip: a site may be named, and need not be.
SITE_OPTIONAL = frozenset({"bake", "write"})


@dataclass(frozen=True, slots=True)
class Symptom:
    """What the card was sent in for."""

    kinds: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Trial:
    """Whether the fault shows with one thing changed; `how_often` is `often`, `rarely` or not said."""

    changed: str
    shows: bool
    how_often: str = ""


@dataclass(frozen=True, slots=True)
class Looked:
    """A region or a designator that was looked at with nothing wrong seen, or `all`."""

    target: str


@dataclass(frozen=True, slots=True)
class LotRead:
    """The lot read off a chip."""

    site: str
    lot: str


@dataclass(frozen=True, slots=True)
class Answered:
    """What a step brought that no other entry shows."""

    do: str
    answer: Any


@dataclass(frozen=True, slots=True)
class Seen:
    """Something wrong that was seen: on a part, or at a place (millimetres of the front view)."""

    kind: str
    part: str = ""
    side: str = ""
    x_mm: float | None = None
    y_mm: float | None = None


@dataclass(frozen=True, slots=True)
class Measured:
    """A reading; `pins` names the part whose own pins were meant."""

    reading: Reading
    pins: str = ""


@dataclass(frozen=True, slots=True)
class Ticked:
    """A fuse that was looked at and found whole."""

    fuse: str


@dataclass(frozen=True, slots=True)
class Injected:
    """A low voltage fed into a point: volts and amperes as measured at the board."""

    point: str
    volts: float
    amps: float


@dataclass(frozen=True, slots=True)
class Glow:
    """Where it warmed, millimetres of the front view; no side where nothing did."""

    side: str = ""
    x_mm: float = 0.0
    y_mm: float = 0.0

    @property
    def warm(self) -> bool:
        """Whether anything warmed."""
        return bool(self.side)


@dataclass(frozen=True, slots=True)
class Powered:
    """What the card hangs on from here on."""

    state: Power


@dataclass(frozen=True, slots=True)
class Drawn:
    """Volts and amperes on the bench supply, and its limit in amperes where it was said."""

    volts: float
    amps: float
    limit: float | None = None


@dataclass(frozen=True, slots=True)
class Climbed:
    """The highest rung of the detection ladder."""

    rung: str


@dataclass(frozen=True, slots=True)
class Run:
    """A memory run: its report, and the file's name where it came from one."""

    report: Report
    file: str = ""

    @property
    def refused(self) -> bool:
        """Whether the tester refused."""
        return self.report.meta.result == "refused"

    @property
    def clean(self) -> bool:
        """A pass without an error, or a tally of zeros that does not say that it failed."""
        zeros = self.report.evidence.tally and self.report.rows > 0 and self.report.meta.result is None
        return self.report.errors == 0 and (self.report.meta.result == "pass" or zeros)

    @property
    def failed(self) -> bool:
        """Whether it found errors, or says that it failed."""
        return not self.refused and (self.report.errors > 0 or self.report.meta.result == "fail")


@dataclass(frozen=True, slots=True)
class Surveyed:
    """What the pads of a site came to."""

    site: str
    verdict: str


@dataclass(frozen=True, slots=True)
class Checked:
    """A check of the proof said by hand."""

    check: str
    passed: bool


@dataclass(frozen=True, slots=True)
class Did:
    """An act on the card; `site` is empty where it has none, `chip` names what was placed."""

    act: str
    site: str = ""
    chip: str = ""

    @property
    def says(self) -> str:
        """The act as a sentence's end: `U71 was taken off`."""
        if self.act == "bake":
            return gettext("the card was baked in an oven")
        if self.act == "write" and not self.site:
            return gettext("its firmware was written")
        if self.act in WITHOUT_SITE:
            return gettext("the cooler {act}", act=DONE[self.act])
        return f"{self.site} {DONE[self.act]}"


What = (
    Symptom
    | Trial
    | Looked
    | LotRead
    | Answered
    | Seen
    | Measured
    | Ticked
    | Injected
    | Glow
    | Powered
    | Drawn
    | Climbed
    | Run
    | Surveyed
    | Checked
    | Did
)


@dataclass(frozen=True, slots=True)
class Entry:
    """One entry: its number from 0, what it is, when, by whom, a note."""

    number: int
    what: What
    at: datetime | None = None
    by: str = ""
    note: str = ""


@dataclass(frozen=True)
class Case:
    """A card's thread; `board` is its model's id, None where nobody has drawn it; `document` is the file as it came."""

    board: str | None
    entries: tuple[Entry, ...]
    document: Mapping[str, Any] = field(default_factory=dict, repr=False, compare=False)


def last_act(entries: Sequence[Entry]) -> int | None:
    """The number of the last act of any kind; None where nothing was done."""
    return next((entry.number for entry in reversed(entries) if isinstance(entry.what, Did)), None)
