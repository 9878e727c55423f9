"""Which rows belong to an archive: those of one job with all that they rest on, or everything of the shop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.apps import apps
from django.db import models

from uvrix.shop.acts.models import Act
from uvrix.shop.case.models import JobTold
from uvrix.shop.jobs.models import Job, SpelledWord
from uvrix.shop.live.models import Presence
from uvrix.shop.offers.models import CustomerLink
from uvrix.shop.stock.models import DonorInspection, PartEdition, StockMove

Rows = dict[type[models.Model], dict[Any, models.Model]]
# What opens doors stays in its shop.
SECRET: frozenset[type[models.Model]] = frozenset({CustomerLink})
# What follows from the other rows, or is of the moment, is never taken along.
DERIVED: frozenset[type[models.Model]] = frozenset({JobTold, SpelledWord, Presence})


def shop_models() -> list[type[models.Model]]:
    """Every model of the shop, those first that others point at as far as that is possible."""
    ours = [model for model in apps.get_models() if model.__module__.startswith("uvrix.shop") and model not in DERIVED]
    found: list[type[models.Model]] = []
    while ours:
        ready = [model for model in ours if not any(other in ours and other is not model for other in _needs(model))]
        # a circle (a model's newest edition): any order serves, keys are checked when all is there
        batch = ready or ours[:1]
        found += batch
        ours = [model for model in ours if model not in batch]
    return found


def _needs(model: type[models.Model]) -> list[type[models.Model]]:
    return [field.related_model for field in _points(model)]


def _points(model: type[models.Model]) -> list[Any]:
    """The fields by which a model's rows point at others of the shop."""
    return [
        field
        for field in model._meta.concrete_fields
        if field.is_relation and field.related_model.__module__.startswith("uvrix.shop")
    ]


def rows_of_job(job: Job) -> Rows:
    """The job's own rows, and what they rest on: people, models, pictures, its card, parts that were on it."""
    found: Rows = {}
    owned: list[models.Model] = [job, *_of_parts(job)]
    while owned:
        row = owned.pop()
        if row.pk in found.setdefault(type(row), {}) or type(row) in SECRET | DERIVED:
            continue
        found[type(row)][row.pk] = row
        owned += _children(row)
    rests = [row for rows in list(found.values()) for row in rows.values()]
    while rests:
        row = rests.pop()
        for field in _points(type(row)):
            there = getattr(row, field.name)
            if there is not None and there.pk not in found.setdefault(type(there), {}):
                found[type(there)][there.pk] = there
                rests.append(there)
    return {model: found[model] for model in shop_models() if found.get(model)}


def _children(row: models.Model) -> list[models.Model]:
    """Rows that say something of this one: all that name it as their job; of a job's row, those that correct it."""
    found: list[models.Model] = []
    for relation in type(row)._meta.related_objects:
        model: Any = relation.related_model
        if not model.__module__.startswith("uvrix.shop") or relation.field.many_to_many:
            continue
        named = relation.field.name == "job" if isinstance(row, Job) else _of_a_job(row)
        if named:
            found += model._default_manager.filter(**{relation.field.name: row.pk})
    return found


def _of_a_job(row: models.Model | type[models.Model]) -> bool:
    return any(field.name == "job" for field in row._meta.concrete_fields)


def models_of_a_job() -> frozenset[type[models.Model]]:
    """Every model of which an archive of one job may hold rows, by the same rules as `rows_of_job`."""
    found: set[type[models.Model]] = {Job, PartEdition, StockMove, DonorInspection}
    ahead = list(found)
    while ahead:
        model = ahead.pop()
        said_of = {
            relation.related_model
            for relation in model._meta.related_objects
            if relation.related_model.__module__.startswith("uvrix.shop") and not relation.field.many_to_many
            if (relation.field.name == "job" if model is Job else _of_a_job(model))
        }
        rested_on = {field.related_model for field in _points(model)}
        fresh = (said_of | rested_on) - found - SECRET
        found |= fresh
        ahead += fresh
    return frozenset(found)


def _of_parts(job: Job) -> Iterator[models.Model]:
    """What Stock knows of the card and of the parts that were on it in this visit."""
    serial = job.card.serial
    labels = set(Act.objects.filter(job=job).values_list("chip", flat=True))
    labels |= set(Act.objects.filter(job=job).values_list("chip_in", flat=True))
    labels -= {""}
    yield from PartEdition.objects.filter(models.Q(label__in=labels) | models.Q(label__startswith=f"{serial}/"))
    yield from StockMove.objects.filter(models.Q(label__in=labels) | models.Q(label__startswith=f"{serial}/"))
    yield from DonorInspection.objects.filter(card=job.card_id)


def every_row(*, secret: bool) -> Iterator[tuple[type[models.Model], Iterator[models.Model]]]:
    """Everything, model by model; what opens doors only where asked."""
    for model in shop_models():
        if secret or model not in SECRET:
            yield model, model._default_manager.order_by("pk").iterator(chunk_size=2000)
