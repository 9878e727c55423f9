"""A dataclass of the API: what it refuses, what it takes, how it is written and named."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated, Any, Literal
from uuid import UUID, uuid4

import pytest

from uvrix.shop.config.limits import FARTHEST_PX
from uvrix.shop.config.shapes import JSONRenderer, chosen, extended, given, pixels, shape


@dataclass(frozen=True, slots=True)
class PartAnswer:
    """A part."""

    name: Annotated[str, given(max_length=4)]


@dataclass(frozen=True, slots=True)
class NewThing:
    """A thing."""

    id: UUID
    part: PartAnswer
    side: Annotated[str, chosen(["front", "back"])]
    sides: Annotated[tuple[str, ...], chosen(["front", "back"])] = ()
    way: Annotated[Literal["a", "b", "c"], chosen(["a", "b"])] = "a"
    at: datetime | None = None
    corners: Annotated[Sequence[list[float]], pixels(2)] = ()


@dataclass(frozen=True, slots=True)
class WholeAnswer(PartAnswer):
    """A part with more."""

    amount: int


ID = uuid4()
WHOLE = {"id": str(ID), "part": {"name": "U1"}, "side": "back"}


def test_what_fits_comes_in_as_the_dataclass_with_its_defaults():
    entry = shape(NewThing)(data=WHOLE | {"sides": ["front"], "corners": [[0, 1], [2, 3]]})
    assert entry.is_valid(), entry.errors
    found = entry.validated_data
    assert found == NewThing(ID, PartAnswer("U1"), "back", ("front",), corners=[[0, 1], [2, 3]])
    assert isinstance(found.sides, tuple)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"id": "no id"}, "id"),
        ({"part": {"name": "U1234"}}, "part"),
        ({"part": {}}, "part"),
        ({"side": "edge"}, "side"),
        ({"side": None}, "side"),
        ({"sides": ["edge"]}, "sides"),
        ({"way": "c"}, "way"),
        ({"corners": [[0, 1]]}, "corners"),
    ],
)
def test_what_does_not_fit_is_refused_by_its_field(change, field):
    entry = shape(NewThing)(data=WHOLE | change)
    assert not entry.is_valid()
    assert set(entry.errors) == {field}


def test_each_answer_has_fields_of_its_own_that_are_as_they_were_declared():
    """They are worked out of the types once: a copy that loses what was set on the first would show from the second."""
    spoiled: Any = shape(NewThing)().fields
    spoiled["part"].fields["name"].required = False
    for _ in range(2):
        fields: Any = shape(NewThing)().fields
        required = {name for name, field in fields.items() if field.required}
        assert required == {"id", "part", "side"}
        assert fields["part"].fields["name"].required
        assert fields["corners"].child.child.min_value == -FARTHEST_PX


def test_it_is_written_with_what_is_nested_in_it():
    at = datetime(2031, 9, 4, 10, tzinfo=UTC)
    thing = NewThing(ID, PartAnswer("U1"), "back", at=at)
    said = json.loads(JSONRenderer().render([thing]))
    assert said == [WHOLE | {"sides": [], "way": "a", "at": "2031-09-04T10:00:00Z", "corners": []}]


def test_what_extends_another_has_all_of_its_fields():
    assert extended(WholeAnswer, PartAnswer("U1"), amount=2) == WholeAnswer("U1", 2)
    with pytest.raises(TypeError):
        extended(WholeAnswer, PartAnswer("U1"), amounts=2)


def test_openapi_leaves_out_the_direction():
    assert [vars(shape(one))["Meta"].ref_name for one in (PartAnswer, NewThing)] == ["Part", "NewThing"]
