"""What goes to paper: PDFs by WeasyPrint in the app's own font, so that they look alike on every machine."""

from __future__ import annotations

from html import escape
from typing import cast

from django.conf import settings

FONT = "Uvrix Mono"
FAMILY = f"'{FONT}', 'DejaVu Sans Mono', monospace"
FONT_FILE = "assets/atkinson-hyperlegible-mono-latin-wght-normal-*.woff2"


def pdf(title: str, style: str, body: str) -> bytes:
    """The PDF of a page; `title` is plain text, `style` and `body` are CSS and HTML."""
    from weasyprint import HTML

    found = [path.as_uri() for path in settings.WEB.glob(FONT_FILE)]
    face = f"@font-face {{ font-family: '{FONT}'; src: url('{found[0]}') }} " if found else ""
    html = f"<!doctype html><meta charset='utf-8'><title>{escape(title)}</title><style>{face}{style}</style>{body}"
    return cast("bytes", HTML(string=html).write_pdf())
