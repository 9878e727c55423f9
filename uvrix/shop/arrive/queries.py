"""The past of a card: what it came with before, what was done, by whom."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from uvrix.core.look.findings import KINDS
from uvrix.core.planning.causes import EFFECTS
from uvrix.language import gettext
from uvrix.shop.jobs.models import Job


def past_of(job: Job) -> list[dict[str, Any]]:
    """Earlier and later jobs of the same card, newest first, each with what was found and done there."""
    others = (
        job.card.jobs.exclude(pk=job.pk)
        .select_related("opened_by")
        .prefetch_related("marks__by", "marks__withdrawal", "attempts__by", "attempts__withdrawal")
        .prefetch_related("look_findings__withdrawal", "hypothesisword_rows__by")
        .order_by("-opened_at")
    )
    return [
        {
            "number": other.pk,
            "label": other.label,
            "opened_at": other.opened_at,
            "closed_at": other.closed_at,
            "complaint": other.complaint,
            "warranty_until": other.warranty_until,
            "in_warranty": other.warranty_until is not None and other.warranty_until >= timezone.localdate(),
            "done": _done(other),
        }
        for other in others
    ]


def _done(job: Job) -> list[str]:
    seen = [finding for finding in job.look_findings.all() if not hasattr(finding, "withdrawal")]
    marks = [mark for mark in job.marks.all() if not hasattr(mark, "withdrawal")]
    tried = [attempt for attempt in job.attempts.all() if not hasattr(attempt, "withdrawal")]
    said = {row.key: row for row in job.hypothesisword_rows.all()}
    causes = [
        gettext(
            "{cause}, confirmed by {shown_name}: {by_what}",
            cause=word.cause,
            shown_name=word.by.shown_name,
            by_what=word.by_what,
        )
        for word in said.values()
        if word.state == "confirmed"
    ]
    words = causes + [f"{KINDS[finding.kind]}{f': {finding.part}' if finding.part else ''}" for finding in seen]
    words += [
        gettext("{designator} marked by {shown_name}", designator=mark.designator, shown_name=mark.by.shown_name)
        for mark in marks
    ]
    for candidate in tried:
        outcome = EFFECTS[candidate.do].yes if candidate.outcome == "yes" else EFFECTS[candidate.do].no
        on = f" {candidate.chips.replace(',', ', ')}" if candidate.chips else ""
        words.append(
            gettext(
                "{do}{on} by {shown_name}: {outcome}",
                do=candidate.do.replace("-", " "),
                on=on,
                shown_name=candidate.by.shown_name,
                outcome=outcome.lower(),
            )
        )
    return words
