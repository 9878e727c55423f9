"""What goes to paper: PDFs by WeasyPrint in the app's own font, so that they look alike on every machine."""

from __future__ import annotations

from html import escape
from typing import cast

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
    return cast("bytes", HTML(string=html).write_pdf())
