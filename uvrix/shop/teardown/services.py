"""Taking apart and putting together."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from django.db import transaction

from uvrix.core.teardown.materials import COOLED, MATERIALS, STATES
from uvrix.core.teardown.recipe import MOST_COUNT
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.teardown.models import PasteOrPad, TeardownDone
from uvrix.shop.teardown.queries import job_states


@dataclass(frozen=True, slots=True)
class NewDone:
    """A step done: `way` is off or on, `count` how many were counted."""

    id: UUID
    step: Annotated[str, given(max_length=64)]
    way: Annotated[str, chosen(["off", "on"])]
    count: Annotated[int, given(min_value=0, max_value=MOST_COUNT)]
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


@transaction.atomic
def do_step(job: Job, new: NewDone, by: User) -> tuple[TeardownDone, bool]:
    """A step taken off or put on, and whether it is new.

    Raises Problem 422 where the recipe has no such step, the count is none, or it goes on without having been off.
    """
    if known := TeardownDone.objects.filter(pk=new.id).first():
        return keep_row(TeardownDone, job, known.pk, by)
    Job.objects.select_for_update().get(pk=job.pk)
    found = next((step_state for step_state in job_states(job).states if step_state.step.id == new.step), None)
    if found is None:
        raise Problem(
            422,
            "unknown-step",
            gettext("found the step {step}, expected one of this model's recipe", step=repr(new.step)),
        )
    if not 0 <= new.count <= MOST_COUNT:
        raise Problem(
            422,
            "does-not-fit",
            gettext("found {number}, expected 0 to {most_count}", number=new.count, most_count=MOST_COUNT),
        )
    if new.way == "on" and found.off is None:
        raise Problem(422, "never-off", gettext("{what}: not off, so nothing goes on.", what=found.step.what))
    step = found.step
    kept = {"id": step.id, "kind": step.kind, "what": step.what, "count": step.count, "side": step.side}
    kept |= {"places_mm": [list(place) for place in step.places], "crosswise": step.crosswise}
    kept |= {"hidden": step.hidden, "note": step.note}
    return keep_row(
        TeardownDone, job, new.id, by, step=new.step, way=new.way, count=new.count, note=new.note, step_as=kept
    )


@dataclass(frozen=True, slots=True)
class NewPasteOrPad:
    """Paste or a pad to note (models.PasteOrPad)."""

    id: UUID
    way: Annotated[str, chosen(["off", "on"])]
    cooled: Annotated[str, chosen(list(COOLED))]
    material: Annotated[str, chosen(list(MATERIALS))]
    name: Annotated[str, given(max_length=80, allow_blank=True)] = ""
    thickness_mm: Annotated[float | None, given(min_value=0.1, max_value=10)] = None
    state: Annotated[str, chosen([*STATES, ""])] = ""
    reused: bool = False


@transaction.atomic
def note_layer(job: Job, new: NewPasteOrPad, by: User) -> tuple[PasteOrPad, bool]:
    """Paste or a pad as it was found or fitted, and whether it is new.

    Raises Problem 422 `no-thickness` where a pad is fitted of which nobody says how thick it is, `no-state` where what
    is found has none.
    """
    if new.way == "on" and new.material == "pad" and new.thickness_mm is None:
        raise Problem(
            422, "no-thickness", gettext("found no thickness, expected the pad's in mm: too thick lifts the cooler")
        )
    if new.way == "off" and not new.state:
        raise Problem(422, "no-state", gettext("found no word on how it was, expected one: good, dried, stacked …"))
    fields = {name: getattr(new, name) for name in ("way", "cooled", "material", "thickness_mm", "reused")}
    return keep_row(PasteOrPad, job, new.id, by, **fields, name=new.name.strip(), state=new.state)
