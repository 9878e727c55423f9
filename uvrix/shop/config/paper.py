"""What goes to paper: PDFs by WeasyPrint in the app's own font, so that they look alike on every machine."""

from __future__ import annotations

from functools import cache
from typing import Any, cast

from django.conf import settings
from django.template.loader import render_to_string
from django.utils.safestring import mark_safe

FAMILY = "'Uvrix Mono', 'DejaVu Sans Mono', monospace"
TEXT_FAMILY = "'Uvrix Text', 'DejaVu Sans', sans-serif"
INK, SOFT, RULE = "#20262b", "#575f66", "#d5cfc1"
FONTS = {
    "Uvrix Mono": "assets/atkinson-hyperlegible-mono-latin-wght-normal-*.woff2",
    "Uvrix Text": "assets/atkinson-hyperlegible-next-latin-wght-normal-*.woff2",
}


def pdf(template: str, title: str, **more: Any) -> bytes:
    """The PDF of a template that extends `paper.html`; it gets the fonts and colours of paper beside what is given."""
    from weasyprint import HTML

    faces = [
        (family, mark_safe(path.as_uri()))  # noqa: S308 - a file of ours
        for family, pattern in FONTS.items()
        for path in list(settings.WEB.glob(pattern))[:1]
    ]
    families = {"mono": mark_safe(FAMILY), "text": mark_safe(TEXT_FAMILY)}  # noqa: S308 - constants
    given = {"title": title, "faces": faces, "ink": INK, "soft": SOFT, "rule": RULE, **families, **more}
    return cast("bytes", HTML(string=render_to_string(template, given), url_fetcher=_fonts_alone()).write_pdf())


@cache
def _fonts_alone() -> Any:
    """Fetches what a page may have: the app's own fonts, and what stands in it. Raises ValueError for all else."""
    from weasyprint.urls import URLFetcher

    class FontsAlone(URLFetcher):  # type: ignore[misc]  # the package has no types
        def fetch(self, url: str, headers: Any = None) -> Any:
            fonts = {path.as_uri() for pattern in FONTS.values() for path in settings.WEB.glob(pattern)}
            if not url.startswith("data:") and url not in fonts:
                raise ValueError(f"found {url[:60]}, expected a font of the app")
            return super().fetch(url, headers)

    return FontsAlone(allow_redirects=False)
