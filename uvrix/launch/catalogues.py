"""Catalogues of the texts that Python makes: taken out of the code, and the pseudo-locale made of them."""

from __future__ import annotations

import contextlib
import io
import re
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

from babel.messages.catalog import Catalog, Message
from babel.messages.extract import extract_from_file
from babel.messages.pofile import read_po, write_po

from uvrix.language import FOLDER

TEMPLATE = FOLDER / "uvrix.pot"
PSEUDO = FOLDER / "pseudo.po"
KEYWORDS = {"gettext": None, "ngettext": (1, 2)}
# A catalogue says nothing of when it was made: it changes when a text does.
MADE = datetime(2026, 1, 1, tzinfo=UTC)
ACCENTS = str.maketrans(
    "AaBbCcDdEeFfGgHhIiJjKkLlMmNnOoPpQqRrSsTtUuVvWwXxYyZz", "ÀàßƀÇçÐðÈèƑƒĜĝĤĥÌìĴĵĶķĻļṀṁÑñÒòÞþǪǫŔŕŠšŢţÙùṼṽŴŵẊẋÝýŽž"
)
# {% gettext "Price: {price}" price=report.price %}
IN_A_TEMPLATE = re.compile(r'\{% gettext "([^"]+)"')
FIELD = re.compile(r"(\{[^}]*\})")


def files() -> dict[Path, str]:
    """The template and every language's catalogue, as the code makes them now."""
    template = _template()
    made = {TEMPLATE: _written(template), PSEUDO: _written(_pseudo(template))}
    for path in sorted(FOLDER.glob("*.po")):
        if path == PSEUDO:
            continue
        with path.open("rb") as file:
            catalogue = read_po(file, locale=path.stem)
        catalogue.update(template, no_fuzzy_matching=True)
        made[path] = _written(catalogue)
    return made


def accented(text: str) -> str:
    """A text in the pseudo-locale: every letter has an accent, and what is filled in stays as it is."""
    return "".join(part if FIELD.fullmatch(part) else part.translate(ACCENTS) for part in FIELD.split(text))


def _template() -> Catalog:
    catalogue = _empty(None)
    for message in sorted(_messages(), key=str):
        catalogue.add(message)
    return catalogue


def _messages() -> Iterator[str | tuple[str, ...]]:
    # it warns of f-strings: a value may be one; that no message is, ruff looks after
    with contextlib.redirect_stderr(io.StringIO()):
        for path in FOLDER.parent.rglob("*.py"):
            for _, message, *_ in extract_from_file("python", path, keywords=KEYWORDS):
                yield message
    for path in FOLDER.parent.rglob("templates/**/*"):
        if path.is_file():
            yield from IN_A_TEMPLATE.findall(path.read_text())


def _pseudo(template: Catalog) -> Catalog:
    catalogue = _empty("en")
    for message in template:
        if message.id:
            ids = message.id if isinstance(message.id, (tuple, list)) else (message.id,)
            told = tuple(accented(text) for text in ids)
            catalogue[message.id] = Message(message.id, told if len(told) > 1 else told[0])
    return catalogue


def _empty(locale: str | None) -> Catalog:
    return Catalog(
        locale=locale,
        domain="uvrix",
        project="Uvrix",
        version="1",
        header_comment="# Texts that the core, the API and the command line make.",
        creation_date=MADE,
        revision_date=MADE,
        last_translator="",
        language_team="",
        msgid_bugs_address="",
    )


def _written(catalogue: Catalog) -> str:
    out = io.BytesIO()
    write_po(out, catalogue, width=120, no_location=True, sort_output=True)
    return out.getvalue().decode()
