"""Checks a JSON value against a JSON Schema and says the first misfit as path, found, expected."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from jsonschema import Draft202012Validator
from jsonschema.exceptions import ValidationError

from uvrix.core.errors import Refusal, quoted
from uvrix.language import gettext

TYPE_NAMES = {
    "object": gettext("an object"),
    "array": gettext("a list"),
    "string": gettext("text"),
    "number": gettext("a number"),
    "null": gettext("null"),
}
TYPE_NAMES |= {"integer": gettext("a whole number"), "boolean": gettext("true or false")}


def check_shape(value: Any, schema: dict[str, Any]) -> None:
    """Raise Refusal at the first place, in the order of the path, where `value` does not fit `schema`."""
    errors = misfits(value, schema)
    if errors:
        raise errors[0]


def misfits(value: Any, schema: dict[str, Any]) -> list[Refusal]:
    """Every place, in the order of the path, where `value` does not fit `schema`."""
    errors = Draft202012Validator(schema).iter_errors(value)
    return [_refusal(error) for error in sorted(errors, key=lambda error: list(map(str, error.path)))]


def _refusal(error: ValidationError) -> Refusal:
    place = json_path(error.absolute_path)
    rule = str(error.validator)
    limit: Any = error.validator_value
    instance: Any = error.instance
    if rule == "required":
        missing = next(name for name in limit if name not in instance)
        return Refusal(
            place, gettext("no {missing}", missing=repr(missing)), gettext("the keys {limit}", limit=", ".join(limit))
        )
    return Refusal(place, quoted(instance), EXPECTED.get(rule, _other)(limit))


def _other(limit: Any) -> str:
    return quoted(limit)


def _type(limit: Any) -> str:
    return gettext(" or ").join(TYPE_NAMES[name] for name in ([limit] if isinstance(limit, str) else limit))


EXPECTED: dict[str, Callable[[Any], str]] = {
    "type": _type,
    "enum": lambda words: gettext("one of ") + ", ".join(words),
    "const": quoted,
    "minItems": lambda number: gettext("at least {number} entries", number=number),
    "maxItems": lambda number: gettext("at most {number} entries", number=number),
    "minLength": lambda _: gettext("text that is not empty"),
    "maxLength": lambda number: gettext("at most {number} characters", number=number),
    "minimum": lambda number: gettext("at least {number}", number=number),
    "maximum": lambda number: gettext("at most {number}", number=number),
    "exclusiveMinimum": lambda number: gettext("more than {number}", number=number),
    "pattern": lambda pattern: gettext("text like {pattern}", pattern=pattern),
}


def json_path(parts: Any) -> str:
    """The path as `$.sites[3].channel`."""
    return "$" + "".join(f"[{part}]" if isinstance(part, int) else f".{part}" for part in parts)
