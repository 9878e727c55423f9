"""The language that this process speaks: texts of the core, the shop and the command line, from catalogues."""

from __future__ import annotations

import os
from functools import cache
from gettext import GNUTranslations, NullTranslations
from io import BytesIO
from pathlib import Path

ENGLISH = "en"
FOLDER = Path(__file__).parent
# One shop is one installation, and speaks one language: it is chosen when a process starts.
LANGUAGE = os.environ.get("UVRIX_LANGUAGE", "") or ENGLISH


def gettext(message: str, **values: object) -> str:
    """The message in this process's language; each {name} in it is filled from the values."""
    text = _catalogue(LANGUAGE).gettext(message)
    return text.format(**values) if values else text


def ngettext(one: str, other: str, count: int, **values: object) -> str:
    """The message for a count of something, by the language's own plural rules; {count} is filled too."""
    return _catalogue(LANGUAGE).ngettext(one, other, count).format(count=count, **values)


def languages() -> list[str]:
    """The languages that there is a catalogue of."""
    return [ENGLISH, *sorted(path.stem for path in FOLDER.glob("*.po"))]


@cache
def _catalogue(language: str) -> NullTranslations:
    if language == ENGLISH:
        return NullTranslations()
    path = FOLDER / f"{language}.po"
    if not path.is_file():
        raise SystemExit(f"found UVRIX_LANGUAGE={language}, expected one of {', '.join(languages())}")
    from babel.messages.mofile import write_mo
    from babel.messages.pofile import read_po

    compiled = BytesIO()
    with path.open("rb") as file:
        write_mo(compiled, read_po(file))
    compiled.seek(0)
    return GNUTranslations(compiled)
