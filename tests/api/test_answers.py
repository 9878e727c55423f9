"""Every read of the demo shop, held against the schema that the typed client is made from."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

import pytest
from django.apps import apps

from tests.api.conftest import OWN_HOST, misfits
from tests.conftest import THOROUGH

JOBS = 60 if THOROUGH else 6
OTHERS = 20 if THOROUGH else 2
# The reads are dealt out to so many tests.
HANDS = 3
# What the name of a place in an address stands for: a model of the shop and the field that is meant.
STANDS_FOR = {
    "number": "jobs.Job.pk",
    "serial": "jobs.Card.serial",
    "run": "bench.MemoryRun.pk",
    "reference": "ohms.ReferenceCard.pk",
    "meter": "ohms.Meter.pk",
    "evidence": "arrive.Evidence.pk",
}
SLUGS = {
    "board-models": "library.BoardModel.slug",
    "families": "library.CoreFamily.slug",
    "recipes": "library.Recipe.slug",
    "readers": "library.Reader.slug",
    "packages": "library.Package.name",
}
# Reads that need a word more than their address, and places that are no row of their own.
ASKED: Mapping[str, Mapping[str, Any]] = {
    "figures": {"by": "cause"},
    "figures.csv": {"by": "cause"},
    "jobs": {"search": "TL8"},
    "jobs/{number}/fits": {"label": "TL8-51006/U13", "site": "U13"},
    "jobs/{number}/mark-question": {"designator": "U13"},
    "jobs/{number}/message-draft": {"template": "options"},
    "jobs/{number}/rework/before": {"do": "remove", "site": "U13"},
    "labels": {"jobs": "1,2"},
    "stock/bearers": {"marking": "GW7K"},
    "stock/label": {"label": "TL8-51006/U13"},
    "stock/life": {"label": "TL8-51006/U13"},
    "stock/sought": {"text": "U13"},
    "stock/substitutes": {"pins": "4", "pitch_mm": "2"},
}
NAMED = {"designator": ("U13", "U11", "M1", "U21"), "node": ("1v8", "5v0"), "edition": (1,)}
# Reads of what the demo shop holds none of, or of links whose token is known to nobody; those of Practice are read in
# test_practice_apart.py.
UNSEEN = {
    "customer/{token}",
    "customer/{token}/report",
    "evidence/{evidence}/file",
    "invitations/{token}",
    "jobs/{number}/practice",
    "jobs/{number}/practice/card",
    "jobs/{number}/practice/end",
    "jobs/{number}/practice/sight/{place}",
    "practice/cards/{file}",
    "phone/{token}",
    "phone/{token}/readings",
}


def values(field: str, most: int) -> list[Any]:
    """Some values of `app.Model.field`, spread over all rows."""
    app, model, name = field.split(".")
    rows = list(apps.get_model(app, model)._default_manager.order_by("pk").values_list(name, flat=True))
    return rows[:: max(1, len(rows) // most)][:most]


def places_of(path: str, names: Iterable[str]) -> Iterable[dict[str, Any]]:
    """Combinations of what may stand at the places of an address."""
    room = path.split("/", maxsplit=1)[0]
    pools: dict[str, list[Any]] = {}
    for name in names:
        if name in {"slug", "name"}:
            pools[name] = values(SLUGS[room], JOBS)
        elif name == "sha256":
            pools[name] = values(
                "rework.FirmwareImage.sha256" if room == "images" else "pictures.Picture.sha256", OTHERS
            )
        elif name == "other":
            pools[name] = values("rework.FirmwareImage.sha256", OTHERS)
        elif name in NAMED:
            pools[name] = list(NAMED[name])
        else:
            pools[name] = values(STANDS_FOR[name], JOBS if name == "number" else OTHERS)
    return (dict(zip(pools, row, strict=True)) for row in itertools.product(*pools.values()))


def reads(schema, hand: int) -> Iterator[tuple[str, Any]]:
    """The reads of the API that one of the tests asks, each with its address."""
    operations = [result.ok() for result in schema.get_all_operations()]
    gets = [operation for operation in operations if operation.method == "get"]
    for operation in gets[hand::HANDS]:
        yield operation.path.removeprefix("/api/v1/"), operation


@pytest.mark.in_turn(HANDS)
@pytest.mark.parametrize("hand", range(HANDS))
@pytest.mark.filterwarnings("ignore::ResourceWarning", "ignore::pytest.PytestUnraisableExceptionWarning")
@pytest.mark.usefixtures("_left_open")
def test_every_read_of_the_demo_shop_is_what_the_schema_says(schema, hand):
    wrong: dict[str, str] = {}
    answered: dict[str, int] = {}
    for path, operation in reads(schema, hand):
        if path in UNSEEN:
            continue
        answered[path] = 0
        for places in places_of(path, [parameter.name for parameter in operation.path_parameters]):
            case = operation.Case(path_parameters=places, query=dict(ASKED.get(path, {})))
            answer = case.call(headers=OWN_HOST)
            answered[path] += answer.status_code == 200
            for said in misfits(case, answer).values():
                wrong.setdefault(path, f"{places} {said}")
    assert [path for path, many in answered.items() if not many] == []
    assert not wrong, "\n\n".join(said[:700] for said in wrong.values())
