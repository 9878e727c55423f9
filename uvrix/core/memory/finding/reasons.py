"""Each explanation in words: what the errors look like, in numbers, and what that means."""

from __future__ import annotations

from collections.abc import Sequence

from uvrix.core.finding_kinds import FINDING_KINDS
from uvrix.core.memory.evidence import LINES
from uvrix.core.memory.finding.hypotheses import Hypothesis
from uvrix.core.memory.sites import BoardCounts, SiteCount
from uvrix.language import gettext


def title(kind: str, dq: Sequence[int] = ()) -> str:
    """A kind of finding in a few words, with its lines."""
    return FINDING_KINDS[kind].title + (f", {lines_words(dq)}" if dq else "")


def lines_words(dq: Sequence[int]) -> str:
    """Lines in words: DQ 3, DQ 3 and 17, DQ 8 to 15."""
    if len(dq) == 1:
        return gettext("DQ {dq}", dq=dq[0])
    if len(dq) == 2:
        return gettext("DQ {first} and {last}", first=dq[0], last=dq[-1])
    return gettext("DQ {first} to {last}", first=dq[0], last=dq[-1])


def why(hypothesis: Hypothesis, counts: BoardCounts) -> list[str]:
    """Two sentences: the numbers, and what they mean."""
    chosen = [site for site in counts.sites if site.place.site.designator in hypothesis.designators]
    return [_numbers(hypothesis, chosen, counts.errors), FINDING_KINDS[hypothesis.kind].means]


def _numbers(hypothesis: Hypothesis, chosen: Sequence[SiteCount], total: int) -> str:
    here = sum(site.errors for site in chosen)
    names = _listed([site.place.site.designator for site in chosen])
    if len(chosen) != 1:
        each = _listed([f"{site.place.site.designator} {site.errors}" for site in chosen])
        return gettext(
            "{here} of {total} errors lie in {names} ({each}).", here=here, total=total, names=names, each=each
        )
    lines = chosen[0].dq
    channel = gettext("channel {channel}", channel=chosen[0].place.channel)
    # a card whose board is not drawn has no name for the chip but its channel's
    where = channel if names == chosen[0].place.channel else f"{names} ({channel})"
    text = gettext("{here} of {total} errors lie in {where}", here=here, total=total, where=where)
    if hypothesis.dq:
        inside = sum(lines[line] for line in hypothesis.dq)
        return gettext(
            "{text}; of {lines} wrong bits in it {inside} are on {lines_words}.",
            text=text,
            lines=sum(lines),
            inside=inside,
            lines_words=lines_words(hypothesis.dq),
        )
    if not any(lines):
        return f"{text}."
    return gettext("{text}, spread over {total} of its lines.", text=text, total=sum(1 for count in lines if count))


def lines_not_known(counts: BoardCounts, designators: Sequence[str]) -> str:
    """Said where a chip is named by counts alone: what its lines would tell, and where they are measured."""
    chosen = [site.place.site for site in counts.sites if site.place.site.designator in designators]
    own = [line for site in chosen for line in range(LINES) if site.lines >> line & 1]
    pads = gettext("the pads of {lines_words}", lines_words=lines_words(own)) if own else gettext("its pads")
    return gettext(
        "The report counts errors and no lines, so the lines are not known: measure {pads} at "
        "{listed} against its fellows' before it is lifted, and once it is off.",
        pads=pads,
        listed=_listed(list(designators)),
    )


REFUSED = {
    "not-found": gettext(
        "The tester found no card at all: is it in, powered, listed on the bus? That is Volts, not memory."
    ),
    "wrong-build": gettext("This build of the tester does not fit the core's generation; take the recipe's build."),
    "wrong-index": gettext("The bus index names another card or the card's second function; look it up again."),
    "not-initialised": gettext(
        "The card was not initialised: start it as the recipe says, or look at its rails in Volts."
    ),
}


def why_refused(refusal: str | None) -> tuple[str, str]:
    """What the tester said when it refused, and what that means."""
    said = gettext(
        "The tester refused ({refusal}); nothing in it speaks of a chip.", refusal=refusal or gettext("no reason given")
    )
    meaning = gettext(
        "The reason is the tester's own; the recipe for this host and model is the first thing to compare with."
    )
    return said, REFUSED.get(refusal or "", meaning)


def cannot_tell_front_from_back(designators: Sequence[str]) -> str:
    """Said where a channel's two chips share errors of unknown lines."""
    return gettext(
        "The report has no lines, so it cannot tell front from back: {listed}.", listed=_listed(list(designators))
    )


def _listed(names: Sequence[str]) -> str:
    return (
        names[0]
        if len(names) == 1
        else gettext("{names} and {names_2}", names=", ".join(names[:-1]), names_2=names[-1])
        if names
        else gettext("no chip")
    )
