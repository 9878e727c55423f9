"""What goes to paper: in the app's own fonts, its texts escaped, nothing fetched from elsewhere."""

from __future__ import annotations

import shutil
from pathlib import Path

import pypdfium2
import pytest

from uvrix.language import gettext
from uvrix.shop.config import paper
from uvrix.shop.config.labels import paper_labels

FONTS = Path(__file__).parents[2] / "web/node_modules/@fontsource-variable"


@pytest.fixture
def fonts(settings, tmp_path):
    """The built front end's fonts, as far as paper takes them."""
    assets = tmp_path / "assets"
    assets.mkdir()
    for pattern in paper.FONTS.values():
        name = Path(pattern).name.replace("-*", "")
        (file,) = FONTS.rglob(name)
        shutil.copy(file, assets / name.replace(".woff2", "-made.woff2"))
    settings.WEB = tmp_path
    return assets


def fonts_of(data):
    """Names of the fonts that the letters of a PDF's first page are in."""
    page = pypdfium2.PdfDocument(data)[0]
    return {text.get_font().get_base_name() for text in page.get_objects() if hasattr(text, "get_font")}


def test_letters_are_of_the_apps_own_fonts(fonts):
    named = fonts_of(paper_labels([("J-0012", ["SC24-0093"])]))
    assert named
    assert all("Uvrix-Mono" in name for name in named), named


def test_what_is_filled_in_is_text_and_no_markup(fonts):
    data = paper_labels([("J-0012", ["<b>R & S</b>"])])
    assert "<b>R & S</b>" in pypdfium2.PdfDocument(data)[0].get_textpage().get_text_range()


@pytest.mark.parametrize("address", ["http://127.0.0.1:9/font.woff2", "file:///etc/hostname"])
def test_nothing_else_is_fetched(fonts, address):
    with pytest.raises(ValueError, match="expected a font of the app"):
        paper._fonts_alone().fetch(address)


def test_a_template_speaks_the_shops_language():
    from django.template import engines

    made = engines["django"].from_string('{% gettext "Price: {price}" price=price %}').render({"price": "<3>"})
    assert made == gettext("Price: {price}", price="&lt;3&gt;")
