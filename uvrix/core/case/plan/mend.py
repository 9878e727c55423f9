"""What goes back on, or goes on new: parts that are off, fuses, contacts and plugs."""

from __future__ import annotations

from uvrix.core.case.entries import Measured
from uvrix.core.case.plan.proposer import Proposer
from uvrix.core.case.plan.steps import Step, step
from uvrix.core.readings.limits import COIL_SIDE_TIMES
from uvrix.core.values.codes import code_words
from uvrix.language import gettext


class Mend(Proposer):
    """What goes back on, or goes on new: parts that are off, fuses, contacts and plugs."""

    def steps(self) -> list[Step]:
        """The steps that it proposes; order.py ranks them."""
        return [*self.refit(), *self.fuses(), *self.contacts()]

    def refit(self) -> list[Step]:
        """Parts that are off go back once their rails read right: another one where it took the short with it."""
        if self.facts.shorted and self.board is not None:
            return []
        found = []
        for site, since in self.card.off.items():
            if site in self.packages and (
                self.pads_of(site, since) == "donor" or not self.short_left_with(site, since)
            ):
                continue  # chips_off.py
            if self.board is not None and any(candidate.tier == 15 for candidate in self.again()):
                continue
            if self.board is None and self._not_read_again(since):
                continue
            if self.innocent(site, since):
                found.append(self.lift("place", site, 0.6, gettext("{site} was not it: put it back.", site=site), 33))
            else:
                found.append(
                    self.lift("swap", site, 0.7, gettext("The short left with {site}: fit another one.", site=site), 33)
                )
        return found

    def innocent(self, site: str, since: int) -> bool:
        """Whether a part came off and the rail stayed short until something else came off, too."""
        if self.board is None:
            again = self._read_again(self._short_before(since), since)
            return not again or again[0]
        touched = self.facts.touches.of_site(site)
        later = [
            entry.number
            for entry in self.facts.acts
            if entry.number > since and getattr(entry.what, "site", "") != site
        ]
        end = later[0] if later else len(self.facts.entries)
        for entry in self.facts.entries[since + 1 : end]:
            if not isinstance(entry.what, Measured):
                continue
            measured_on = self.facts.touches.of_reading(entry.what.reading.point)
            still = touched & measured_on and self.facts.short_then(entry.number, entry.what)
            if still and not self._rose(entry.what, touched & measured_on, since):
                return True
        return False

    def _rose(self, again: Measured, rails: frozenset[str], since: int) -> bool:
        """Whether a rail reads several times what it did before a part came off: then that was one of two shorts."""
        before = [
            entry.what.reading.value.middle
            for entry in self.facts.entries[:since]
            if isinstance(entry.what, Measured)
            and self.facts.touches.of_reading(entry.what.reading.point) & rails
            and self.facts.short_then(entry.number, entry.what)
        ]
        last, now = (before or [None])[-1], again.reading.value.middle
        return last is not None and now is not None and now > COIL_SIDE_TIMES * last

    def _not_read_again(self, since: int) -> bool:
        """Whether something was short before a part came off an undrawn board, and was not read since."""
        short = self._short_before(since)
        return bool(short) and not self._read_again(short, since)

    def _short_before(self, since: int) -> set[str]:
        return {
            entry.what.reading.point
            for entry in self.facts.entries[:since]
            if isinstance(entry.what, Measured) and self.facts.short_then(entry.number, entry.what)
        }

    def _read_again(self, short: set[str], since: int) -> list[bool]:
        """Whether each later reading of those points is short yet, oldest first."""
        return [
            self.facts.short_then(entry.number, entry.what)
            for entry in self.facts.entries[since + 1 :]
            if isinstance(entry.what, Measured)
            and entry.what.reading.point in short
            and entry.what.reading.to == "ground"
        ]

    def fuses(self) -> list[Step]:
        """A blown fuse is a symptom: what is behind it first, both sides read; then another one."""
        if self.facts.shorted:
            return []
        found = []
        for fuse, state in self.facts.fuses.items():
            if state.state not in {"blown", "sick"}:
                continue
            if state.state == "blown" and not self.side_read(fuse):
                for end in ("1", "2"):
                    why = gettext(
                        "{fuse} is open, its two sides are two nets: read both to ground before another one goes in.",
                        fuse=fuse,
                    )
                    if not self._end_read(f"{fuse}.{end}"):
                        found.append(self.read(f"{fuse}.{end}", 0.3, why, 24))
                continue
            found.append(
                step(
                    "swap",
                    fuse,
                    0.85,
                    gettext(
                        "{fuse} is {state} and nothing behind it is short: fit another one of its rating.",
                        fuse=fuse,
                        state=code_words(state.state),
                    ),
                    34,
                )
            )
        return found

    def side_read(self, fuse: str) -> bool:
        """Whether both sides of a fuse were read to ground since it was open."""
        return all(self._end_read(f"{fuse}.{end}") for end in ("1", "2"))

    def _end_read(self, end: str) -> bool:
        return any(
            measurement.reading.point == end
            and measurement.reading.quantity == "resistance"
            and measurement.reading.to == "ground"
            for _, measurement in self.facts.readings.of_points
        )

    def contacts(self) -> list[Step]:
        """Torn contacts and plugs that were seen."""
        found = []
        for cause in self.causes:
            if cause.cause == "contact" and cause.designators and cause.chance > 0.05:
                who = cause.designators[0]
                if not self.facts.done("contact-repaired", site=who):
                    found.append(
                        step(
                            "contact-repaired",
                            who,
                            cause.chance,
                            gettext("{who} was seen torn: repair it.", who=who),
                            34,
                        )
                    )
            if (
                cause.cause == "plug"
                and cause.designators
                and cause.chance > 0.05
                and self.seen_at(cause.designators[0])
            ):
                found.append(
                    step(
                        "swap",
                        cause.designators[0],
                        cause.chance,
                        gettext("{designators} was seen damaged: fit another one.", designators=cause.designators[0]),
                        36,
                    )
                )
        return found
