"""One dataclass for each thing that the API puts together: its OpenAPI component and its answer come of it.

docs/decisions/one-dataclass-a-shape.md says where a serializer stays: over a row, or over an object of the core.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from copy import copy, deepcopy
from dataclasses import MISSING, dataclass, fields, is_dataclass
from functools import cache, cached_property
from typing import TYPE_CHECKING, Any, TypeVar, cast, get_type_hints

from rest_framework import renderers, serializers
from rest_framework.utils.encoders import JSONEncoder
from rest_framework_dataclasses.field_utils import DataclassDefinition, TypeInfo, get_dataclass_definition
from rest_framework_dataclasses.serializers import DataclassSerializer, SerializerFieldDefinition

from uvrix.shop.config.limits import FARTHEST_PX

if TYPE_CHECKING:
    from _typeshed import DataclassInstance

SUFFIXES = re.compile(r"(Answer|Request)$")
Shape = TypeVar("Shape")


@dataclass(frozen=True, slots=True)
class Field:
    """What the type of a shape's field does not say: stands in its Annotated."""

    choices: Mapping[str, Any] | None = None
    arguments: Mapping[str, Any] | None = None
    serializer: serializers.Field[Any, Any, Any, Any] | None = None


def chosen(choices: Collection[Any], *, allow_blank: bool = False) -> Field:
    """A text, or texts, out of `choices`."""
    return Field(choices={"choices": list(choices), "allow_blank": allow_blank})


def given(**arguments: Any) -> Field:
    """A field with arguments of its serializer's field: help_text, limits."""
    return Field(arguments=arguments)


def declared(serializer: serializers.Field[Any, Any, Any, Any]) -> Field:
    """A field whose value a serializer has written: rows, objects of the core."""
    return Field(serializer=serializer)


def pixels(number: int) -> Field:
    """`number` points (x, y) on a photograph, in its pixels."""
    pixel = serializers.FloatField(min_value=-FARTHEST_PX, max_value=FARTHEST_PX)
    point = serializers.ListField(child=pixel, min_length=2, max_length=2)
    return declared(serializers.ListField(child=point, min_length=number, max_length=number))


class ShapeSerializer(DataclassSerializer[Any]):
    """The serializer of a shape; those nested in it have one of their own.

    What its fields are is worked out of the types once a process, not once an answer.
    """

    Meta: type[Any]

    def get_fields(self) -> dict[str, serializers.Field[Any, Any, Any, Any]]:
        """Fields of its own, copied as Django REST framework copies those that a serializer declares."""
        return deepcopy(_fields_of(type(self)))

    @cached_property
    def dataclass_definition(self) -> DataclassDefinition[Any]:
        """Its fields with their types."""
        return _definition_of(self.Meta.dataclass)

    @cached_property
    def said(self) -> dict[str, Field]:
        """What is said of each field beside its type."""
        hints = get_type_hints(self.dataclass_definition.dataclass_type, include_extras=True)
        found = ((name, entry) for name, hint in hints.items() for entry in getattr(hint, "__metadata__", ()))
        return {name: entry for name, entry in found if isinstance(entry, Field)}

    def create_field(self, field_name: str, extra_kwargs: dict[str, Any]) -> serializers.Field[Any, Any, Any, Any]:
        """The field of a name: a serializer's own where one is declared."""
        said = self.said.get(field_name, Field())
        if said.serializer is not None:
            entry = self.dataclass_definition.fields[field_name]
            found: Any = said.serializer
            if found.required and not entry.default is entry.default_factory is MISSING:
                found = copy(found)
                found._kwargs = {**found._kwargs, "required": False}  # noqa: SLF001 - what a field is copied by
            return cast("serializers.Field[Any, Any, Any, Any]", deepcopy(found))
        return super().create_field(field_name, {**(said.arguments or {}), **extra_kwargs})

    def build_dataclass_field(self, field_name: str, type_info: TypeInfo) -> SerializerFieldDefinition:
        """A nested shape."""
        return shape(type_info.base_type), {}

    def build_literal_field(self, field_name: str, type_info: TypeInfo) -> SerializerFieldDefinition:
        """One of few words: of those that are chosen where not all are."""
        choices = self.said.get(field_name, Field()).choices
        return (
            (serializers.ChoiceField, dict(choices)) if choices else super().build_literal_field(field_name, type_info)
        )

    def build_standard_field(self, field_name: str, type_info: TypeInfo) -> SerializerFieldDefinition:
        """A plain value: one of its choices where it has some, a document where it may be anything."""
        said = self.said.get(field_name, Field())
        if said.choices:
            return serializers.ChoiceField, dict(said.choices)
        if type_info.base_type is Any:
            return serializers.JSONField, {}
        return super().build_standard_field(field_name, type_info)


@cache
def _fields_of(kind: type[ShapeSerializer]) -> dict[str, serializers.Field[Any, Any, Any, Any]]:
    return super(ShapeSerializer, kind()).get_fields()


@cache
def _definition_of(dataclass_type: Any) -> DataclassDefinition[Any]:
    return get_dataclass_definition(dataclass_type)


@cache
def shape(answer: Any) -> type[ShapeSerializer]:
    """The serializer of a dataclass; in OpenAPI it is named without the suffix, which says the direction."""
    meta = type("Meta", (), {"dataclass": answer, "ref_name": SUFFIXES.sub("", answer.__name__)})
    name = f"{answer.__name__}Serializer"
    return type(name, (ShapeSerializer,), {"Meta": meta, "__doc__": answer.__doc__, "__module__": answer.__module__})


class ShapeEncoder(JSONEncoder):
    """Writes dataclasses as objects of their fields."""

    def default(self, obj: Any) -> Any:
        """A value that JSON does not know."""
        if is_dataclass(obj) and not isinstance(obj, type):
            return {entry.name: getattr(obj, entry.name) for entry in fields(obj)}
        return super().default(obj)


class JSONRenderer(renderers.JSONRenderer):
    """Answers as JSON, shapes among them."""

    encoder_class = ShapeEncoder


def written(answers: DataclassInstance | list[Any]) -> Any:
    """An answer, or answers, of which some fields are declared by a serializer, as JSON has them."""
    if isinstance(answers, list):
        return [written(answer) for answer in answers]
    kind: Any = type(answers)
    return shape(kind)(answers).data


def extended(answer: type[Shape], base: Any, **more: Any) -> Shape:
    """A shape that has all fields of `base`, an instance of what it extends, and `more`."""
    return answer(**{entry.name: getattr(base, entry.name) for entry in fields(base)}, **more)
