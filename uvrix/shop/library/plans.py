"""The bench plans of a shop: what the cards of a class have in common, by which a board is read that nobody drew."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from uvrix.core.case.generic import GenericPlan, read_plan
from uvrix.core.case.usual_plan import DOCUMENTS, USUAL
from uvrix.core.look.overlay import Point
from uvrix.core.look.sides import through
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.library.models import BenchPlan, BoardModel


@dataclass(frozen=True, slots=True)
class BehindAnswer:
    """Where a pixel of one side's photograph lies on the other's: x' = ax + cy + e, y' = bx + dy + f, as [a … f]."""

    to_back: Sequence[float]
    to_front: Sequence[float]


def plans() -> dict[str, dict[str, Any]]:
    """The documents of all plans by their id: those that ship, and the shop's own in their place."""
    found = {document["id"]: document for document in DOCUMENTS}
    for row in BenchPlan.objects.order_by("pk"):
        found[row.content["id"]] = row.content
    return found


def bench_plan(model: BoardModel) -> GenericPlan:
    """The plan of a model: as it was said of it, else the usual one."""
    document = plans().get(model.plan or USUAL["id"], USUAL)
    return _read(json.dumps(document))


@lru_cache(maxsize=64)
def _read(text: str) -> GenericPlan:
    return read_plan(json.loads(text))


def save_plan(document: Any, by: User) -> BenchPlan:
    """A new edition of a plan, under the id that it carries. Raises Refusal where it does not fit."""
    read_plan(document)
    return BenchPlan.objects.create(content=document, by=by)


def choose_plan(model: BoardModel, plan: str) -> None:
    """Which plan a model is read by. Raises Problem 422 for one that the shop does not have."""
    if plan and plan not in plans():
        raise Problem(
            422, "no-plan", gettext("found {plan}, expected one of {names}", plan=repr(plan), names=", ".join(plans()))
        )
    model.plan = plan
    model.save(update_fields=["plan"])


def align_sides(model: BoardModel, holes: dict[str, tuple[str, list[Point]]]) -> None:
    """The two photographs of a model laid over each other by three holes, `holes` by side as (picture, pixels).

    Raises Refusal where they cannot be.
    """
    through(holes["front"][1], holes["back"][1])
    model.holes = {side: {"picture": picture, "px": [list(at) for at in px]} for side, (picture, px) in holes.items()}
    model.save(update_fields=["holes"])


def behind_of(model: BoardModel) -> BehindAnswer | None:
    """How the two newest photographs of a model lie over each other; None where nobody has said it of these two."""
    if not model.holes:
        return None
    newest = {photograph.side: photograph.picture_id for photograph in model.pictures.order_by("added_at", "pk")}
    if any(newest.get(side) != model.holes[side]["picture"] for side in ("front", "back")):
        return None
    front, back = ([(x, y) for x, y in model.holes[side]["px"]] for side in ("front", "back"))
    found = through(front, back)
    back_to_front = found.inverse
    return BehindAnswer(
        to_back=[found.a, found.b, found.c, found.d, found.e, found.f],
        to_front=[getattr(back_to_front, name) for name in "abcdef"],
    )
