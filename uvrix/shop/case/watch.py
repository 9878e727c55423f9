"""Forgets what was told of a job as soon as anything about it changes: a row of any step, its model, its good cards."""

from __future__ import annotations

from functools import cache
from typing import Any

from django.db import connection
from django.db.models import F, Model
from django.db.models.signals import post_delete, post_save

from uvrix.shop.acts.models import DeclaredPart
from uvrix.shop.case.given import OF_ALL, OF_ITS_JOB
from uvrix.shop.case.models import JobTold
from uvrix.shop.case.rows import SOURCES, changed
from uvrix.shop.library.models import BoardEdition, FamilyEdition

FORGET = """
insert into case_jobtold (job_id, content, version) values (%s, null, 1)
on conflict (job_id) do update set content = null, version = case_jobtold.version + 1
"""
# How rows name the row of a job that they take back, keep or answer.
OF_A_ROW = ("trial", "finding", "run", "mark", "act", "attempt", "promise", "offer", "span", "value", "evidence")


def job_of(row: Model) -> int | None:
    """The job that a row is of: its own, or that of the row that it takes back or keeps; None where it is of none."""
    number = getattr(row, "job_id", None)
    if number is not None:
        return int(number)
    for name in OF_A_ROW:
        number = getattr(getattr(row, name, None), "job_id", None)
        if number is not None:
            return int(number)
    return None


def forget(sender: type[Model], instance: Model, **signal: Any) -> None:
    """A row came, changed or went."""
    if isinstance(instance, (BoardEdition, FamilyEdition, *OF_ALL)):
        changed()
        JobTold.objects.update(content=None, version=F("version") + 1)
    elif concerns_a_case(sender) and (number := job_of(instance)) is not None:
        changed()
        if "created" not in signal:  # a row went, and its job may go with it
            JobTold.objects.filter(pk=number).update(content=None, version=F("version") + 1)
            return
        with connection.cursor() as cursor:
            cursor.execute(FORGET, [number])


@cache
def concerns_a_case(table: type[Model]) -> bool:
    """Whether rows of a table are entries of a case, or take one back or answer one, or change what it is read with."""
    told: set[Any] = {DeclaredPart, *OF_ITS_JOB, *(kept for kept, _ in SOURCES if kept)}
    return table in told or any(
        field.related_model in told
        for field in table._meta.concrete_fields
        if field.is_relation and field.name in OF_A_ROW
    )


post_save.connect(forget, dispatch_uid="case-forget-saved")
post_delete.connect(forget, dispatch_uid="case-forget-deleted")
