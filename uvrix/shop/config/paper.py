"""What goes to paper: PDFs by WeasyPrint in the app's own font, so that they look alike on every machine."""

from __future__ import annotations

from html import escape
from typing import Any, cast

from django.conf import settings

FAMILY = "'Uvrix Mono', 'DejaVu Sans Mono', monospace"
TEXT_FAMILY = "'Uvrix Text', 'DejaVu Sans', sans-serif"
FONTS = {
    "Uvrix Mono": "assets/atkinson-hyperlegible-mono-latin-wght-normal-*.woff2",
    "Uvrix Text": "assets/atkinson-hyperlegible-next-latin-wght-normal-*.woff2",
}


def pdf(title: str, style: str, body: str) -> bytes:
    """The PDF of a page; `title` is plain text, `style` and `body` are CSS and HTML."""
    from weasyprint import HTML

    faces = "".join(
        f"@font-face {{ font-family: '{name}'; src: url('{path.as_uri()}') }} "
        for name, pattern in FONTS.items()
        for path in list(settings.WEB.glob(pattern))[:1]
    )
    html = f"<!doctype html><meta charset='utf-8'><title>{escape(title)}</title><style>{faces}{style}</style>{body}"
    return cast("bytes", HTML(string=html, url_fetcher=_fonts_alone).write_pdf())


def _fonts_alone(url: str, *more: Any, **named: Any) -> Any:
    """What a page may fetch: the app's own fonts, and what stands in it. Raises ValueError for all else."""
    from weasyprint import default_url_fetcher

    if url.startswith("data:") or any(
        url == path.as_uri() for pattern in FONTS.values() for path in settings.WEB.glob(pattern)
    ):
        return default_url_fetcher(url, *more, **named)
    raise ValueError(f"found {url[:60]}, expected a font of the app")
