"""How far a job's card is taken apart."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, cast

from uvrix.core.teardown.materials import Layer, doubts
from uvrix.core.teardown.recipe import Step, read_teardown
from uvrix.core.teardown.tally import Done, StepState, Way, states
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.jobs.rows import rows_of
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.sheets import Sheet, sheet_of
from uvrix.shop.teardown.models import PasteOrPad, TeardownDone

EMPTY: dict[str, Any] = {"steps": []}


@dataclass(frozen=True, slots=True)
class JobTeardown:
    """The recipe that serves, and every step of it as it stands on this card."""

    recipe: Sheet
    states: tuple[StepState[TeardownDone], ...]


def recipe_of(model: BoardModel) -> Sheet:
    """The teardown recipe of a model, or a relative's."""
    return sheet_of(model, "teardown", EMPTY)


def job_states(job: Job) -> JobTeardown:
    """Every step as it stands; steps that were done and are in no recipe any more stand after the recipe's."""
    return _states(job, _rows(job))


def owed_states(job: Job) -> list[StepState[TeardownDone]]:
    """The steps that are to be done back before the card leaves; where none was done, the recipe is not asked for."""
    rows = _rows(job)
    return [state for state in _states(job, rows).states if state.owed and state.off] if rows else []


def _rows(job: Job) -> list[TeardownDone]:
    return list(rows_of(job, "teardowndone_rows", "by"))


def _states(job: Job, rows: list[TeardownDone]) -> JobTeardown:
    recipe = recipe_of(job.card.model)
    steps: tuple[Step, ...] = recipe.content
    known = {step.id for step in steps}
    dropped = {row.step: row.step_as for row in rows if row.step not in known}
    steps += tuple(read_teardown({"steps": [entry]})[0] for entry in dropped.values())
    done = [Done(row.step, cast("Way", row.way), row.count, row) for row in rows]
    return JobTeardown(recipe, states(steps, done))


def layer_of(row: PasteOrPad) -> Layer:
    """A row as the core has it."""
    return Layer(row.cooled, row.material, row.name, row.thickness_mm, row.state, row.reused)


@dataclass(frozen=True, slots=True)
class NotedLayer:
    """A layer that was noted, and what speaks against it."""

    row: PasteOrPad
    doubt: str


def layers(job: Job) -> list[NotedLayer]:
    """Paste and pads of a job's card as they were noted, oldest first, held against the model's other cards."""
    rows = list(job.pasteorpad_rows.select_related("by"))
    if not rows:
        return []
    of_model = of_the_shop(PasteOrPad.objects.filter(way="on", job__card__model=job.card.model_id))
    of_model = of_model.exclude(job__card=job.card_id)
    newest = {(row.job.card_id, row.cooled): row for row in of_model.select_related("job").order_by("at")}
    others = [layer_of(row) for row in newest.values()]
    return [NotedLayer(row, doubts(layer_of(row), others) if row.way == "on" else "") for row in rows]


def fitted(job: Job) -> list[Layer]:
    """The newest of what was fitted on each kind of part."""
    newest = {row.cooled: row for row in job.pasteorpad_rows.filter(way="on")}
    return [layer_of(row) for row in newest.values()]
