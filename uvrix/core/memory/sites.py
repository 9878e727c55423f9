"""From the channels of reports to the chips of a board: errors, lines and shares of each site."""

from __future__ import annotations

import functools
import operator
from collections.abc import Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import Board
from uvrix.core.boards.walk import Place, places
from uvrix.core.memory.evidence import LINES, Evidence
from uvrix.core.memory.report import Channels, Report, channels_of
from uvrix.language import gettext, ngettext


@dataclass(frozen=True, slots=True)
class SiteCount:
    """One site over all reports; `dq` counts the channel's lines that this chip carries, others are 0."""

    place: Place
    errors: int
    share: float
    dq: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class BoardCounts:
    """Every site in walking order, and the errors that no fitted chip can have made, by channel."""

    sites: tuple[SiteCount, ...]
    warnings: tuple[str, ...]

    @property
    def errors(self) -> int:
        """Sum over the sites (an error that touches both chips of a clamshell counts for each)."""
        return sum(site.errors for site in self.sites)

    @property
    def lines_known(self) -> bool:
        """Whether any report told which lines were wrong."""
        return any(any(site.dq) for site in self.sites)


# The attribute in which a board keeps its channels: a model does not change while it is read.
KEPT = "board_channels"


def board_channels(board: Board) -> Channels:
    """What a reader must know of a board, before it reads."""
    if KEPT not in vars(board):
        vars(board)[KEPT] = _board_channels(board)
    found: Channels = vars(board)[KEPT]
    return found


def _board_channels(board: Board) -> Channels:
    met = places(board.core, board.walk, board.sites)
    names = {place.channel for place in met if place.channel}
    unions = {_fitted_lines(met, name) for name in names}
    return channels_of(board, names, sorted({place.site.lines for place in met} | unions))


def _lost(evidence: Evidence, name: str, fitted: Sequence[int]) -> int:
    """Errors of a channel that count for none of the chips that carry the lines `fitted`."""
    channel = evidence.channels.get(name)
    if channel is None:
        return 0
    if evidence.tally:
        return 0 if any(channel.touching(lines) for lines in fitted) else channel.errors
    union = functools.reduce(operator.or_, fitted, 0)
    return channel.errors - (channel.touching(union) if union else 0)


def _fitted_lines(met: Sequence[Place], channel: str) -> int:
    """Mask of the channel's lines that fitted chips carry."""
    mask = 0
    for place in met:
        if place.channel == channel and place.site.fitted:
            mask |= place.site.lines
    return mask


def count_sites(board: Board, reports: Sequence[Report]) -> BoardCounts:
    """Errors by site, summed over the reports (docs/formats §5 and §6)."""
    met = places(board.core, board.walk, board.sites)
    totals = [(sum(_errors(report.evidence, place) for report in reports), _lines(reports, place)) for place in met]
    whole = sum(errors for errors, _ in totals)
    sites = tuple(
        SiteCount(place, errors, errors / whole if whole else 0.0, lines)
        for place, (errors, lines) in zip(met, totals, strict=True)
    )
    return BoardCounts(sites, tuple(_homeless(met, reports)))


def _errors(evidence: Evidence, place: Place) -> int:
    if not place.site.fitted or place.channel not in evidence.channels:
        return 0
    return evidence.channels[place.channel].touching(place.site.lines)


def _lines(reports: Sequence[Report], place: Place) -> tuple[int, ...]:
    lines = [0] * LINES
    if place.site.fitted and place.channel:
        for report in reports:
            if place.channel in report.evidence.channels:
                for line, count in enumerate(report.evidence.channels[place.channel].lines):
                    lines[line] += count if place.site.lines >> line & 1 else 0
    return tuple(lines)


def _homeless(met: Sequence[Place], reports: Sequence[Report]) -> list[str]:
    """Warnings on errors that are in no site: channels the board lacks, places that are not fitted."""
    names = list(dict.fromkeys(name for report in reports for name in report.evidence.channels))
    warnings = []
    for name in names:
        here = [place for place in met if place.channel == name]
        lines = _fitted_lines(met, name)
        fitted = [place.site.lines for place in here if place.site.fitted]
        lost = sum(_lost(report.evidence, name, fitted) for report in reports)
        if not lost:
            continue
        errors = ngettext("{count} error", "{count} errors", lost)
        if not here:
            warnings.append(
                gettext(
                    "channel {name}: {errors}, but no place of this board has that channel", name=name, errors=errors
                )
            )
        elif not lines:
            empty = ", ".join(place.site.designator for place in here)
            warnings.append(
                gettext(
                    "channel {name}: {errors}, but its place {empty} is not fitted",
                    name=name,
                    errors=errors,
                    empty=empty,
                )
            )
        else:
            warnings.append(
                gettext(
                    "channel {name}: {errors} on lines that no fitted chip of this channel carries",
                    name=name,
                    errors=errors,
                )
            )
    return warnings
