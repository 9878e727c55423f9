"""Texts of templates in the shop's language: {% gettext "Price: {price}" price=said.price %}."""

from __future__ import annotations

from typing import Any

from django import template

from uvrix import language

register = template.Library()


@register.simple_tag
def gettext(message: str, **values: Any) -> str:
    """A message of the catalogue with its places filled; what is filled in is escaped as any value of a template."""
    return language.gettext(message, **values)


@register.filter
def mm(length: float) -> str:
    """A length of a drawing to a micrometre, with a decimal point in every language."""
    return f"{length:.3f}"
