"""Pictures keep nothing but pixels; prints are true to the millimetre."""

from __future__ import annotations

import io
import struct
import zlib

import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageFile, ImageOps

from tests.api.conftest import PNG, close_files, small_picture
from uvrix.core.boards.sheet import CHECK_MM
from uvrix.core.errors import Refusal
from uvrix.shop.config.roles import Role
from uvrix.shop.pictures.models import Picture
from uvrix.shop.pictures.services import decoded, take_picture

POINT_MM = 25.4 / 72


def with_metadata(width=None):
    notes = Image.Exif()
    notes[0x010F] = "Secretmaker"
    notes[0x0112] = 6  # the camera was held upright
    if width:
        notes[0x0100] = width
    return small_picture("JPEG", exif=notes)


def content(answer):
    data = b"".join(answer.streaming_content)
    close_files(answer)
    return data


def test_metadata_are_not_kept_and_the_picture_stands_upright(technician, upload):
    data = with_metadata()
    assert b"Secretmaker" in data
    shown = upload("pictures", "phone.jpg", data).json()
    assert (shown["kind"], shown["width_px"], shown["height_px"]) == ("jpeg", 20, 30)
    answer = technician.get(f"/api/v1/pictures/{shown['sha256']}")
    assert answer["Content-Type"] == "image/jpeg"
    kept = content(answer)
    assert b"Secretmaker" not in kept
    assert not Image.open(io.BytesIO(kept)).getexif()


def test_the_same_picture_is_stored_once(upload):
    first, again = upload("pictures", "a.png", PNG).json(), upload("pictures", "b.png", PNG).json()
    assert first == again
    assert Picture.objects.count() == 1


@pytest.mark.parametrize(
    "data",
    [b"", b"<svg xmlns='http://www.w3.org/2000/svg'/>", b"GIF89a" + b"\0" * 40, PNG[: len(PNG) // 2], b"\x89PNG\r\n"],
)
def test_what_is_no_photograph_is_refused(upload, data):
    ImageFile.LOAD_TRUNCATED_IMAGES = True  # as the library that makes our prints leaves it
    answer = upload("pictures", "x.png", data)
    assert answer.status_code in (400, 422)
    assert "expected" in answer.json()["detail"].lower() or "empty" in answer.json()["detail"].lower()
    assert Picture.objects.count() == 0


def test_a_photograph_stands_upright_whatever_else_the_camera_wrote_is_damaged():
    data = bytearray(with_metadata(width=7))
    second_tag = data.index(b"Exif") + 6 + 8 + 2 + 12
    data[second_tag + 1] = 61
    with pytest.raises(struct.error):
        ImageOps.exif_transpose(Image.open(io.BytesIO(data)))
    pixels, kind = decoded(bytes(data), "phone.jpg")
    assert (pixels.size, kind) == ((20, 30), "jpeg")


def paletted():
    written = io.BytesIO()
    Image.new("RGB", (30, 20), "teal").quantize(4).save(written, "PNG", transparency=1)
    return written.getvalue()


def checked_anew(data):
    """A PNG whose chunks have the check sums of what stands in them, so that damage gets past those."""
    mended, at = bytearray(data[:8]), 8
    while at + 12 <= len(data):
        end = at + 8 + int.from_bytes(data[at : at + 4], "big")
        mended += data[at:end] + zlib.crc32(data[at + 4 : end]).to_bytes(4, "big")
        at = end + 4
    return bytes(mended)


@pytest.mark.filterwarnings("ignore::UserWarning:PIL")
@given(st.sampled_from([PNG, paletted(), small_picture("JPEG"), with_metadata()]), st.data())
def test_any_bytes_are_a_picture_or_refused(picture, data):
    at = data.draw(st.integers(0, len(picture)))
    junk = data.draw(st.binary(max_size=12))
    damaged = picture[:at] + junk + picture[at + data.draw(st.integers(0, 12)) :]
    if data.draw(st.booleans()):
        damaged = checked_anew(damaged)
    try:
        pixels, kind = decoded(damaged, "x")
    except Refusal as refusal:
        assert refusal.expected
    else:
        assert pixels.mode == "RGB"
        assert kind in ("png", "jpeg")


def test_a_picture_that_unpacks_to_too_much_is_refused(upload):
    written = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(written, "PNG")
    answer = upload("pictures", "wide.png", written.getvalue())
    assert answer.status_code == 422
    assert Picture.objects.count() == 0


def boxes(page):
    """Width, height and place of every filled or stroked shape on a page, in millimetres from its upper left."""
    height = page.get_height()
    for found in page.get_objects(max_depth=12):
        left, bottom, right, top = (value * POINT_MM for value in found.get_bounds())
        yield right - left, top - bottom, left, height * POINT_MM - top


@pytest.mark.parametrize("paper", ["fit", "a4", "a3", "letter"])
@pytest.mark.parametrize(("side", "turns"), [("front", 0), ("back", 1)])
def test_the_check_bar_measures_fifty_millimetres(technician, teal, paper, side, turns):
    answer = technician.get(f"/api/v1/board-models/teal-8/print?paper={paper}&side={side}&turns={turns}&mark=U18")
    assert answer["Content-Type"] == "application/pdf"
    pages = pypdfium2.PdfDocument(answer.content)
    assert len(pages) >= 1
    for page in pages:
        bars = [box for box in boxes(page) if abs(box[0] - CHECK_MM) < 0.5 and abs(box[1] - 2.5) < 0.1]
        assert len(bars) == 1
        assert bars[0][0] == pytest.approx(CHECK_MM, abs=0.02)


def test_the_page_is_as_large_as_the_board_and_names_what_is_marked(technician, teal):
    answer = technician.get("/api/v1/board-models/teal-8/print?mark=U18&title=J-0001")
    page = pypdfium2.PdfDocument(answer.content)[0]
    text = page.get_textpage().get_text_bounded()
    run_together = "".join(text.split())  # spaces are places on paper, not characters
    for word in ("U18", "A1", "J-0001Teal8", "U18marked", "Frontside,bracketleft", "50mm:measureit"):
        assert word in run_together, text
    assert page.get_width() * POINT_MM == pytest.approx(236 + 2 * 6 + 2 * 8, abs=12)
    outline = max(box[0] for box in boxes(page))
    assert outline == pytest.approx(236, abs=6)


def test_tiles_have_a_page_for_each_place_and_say_which(technician, people):
    from tests.api.conftest import BOARDS
    from uvrix.shop.library.services import import_board

    import_board((BOARDS / "scaup-24.board.json").read_bytes(), "scaup-24", people["lead"])
    answer = technician.get("/api/v1/board-models/scaup-24/print?paper=a4&turns=1")
    pages = pypdfium2.PdfDocument(answer.content)
    texts = ["".join(page.get_textpage().get_text_bounded().split()) for page in pages]
    assert len(pages) > 1
    assert len({text[text.index("Page") :] for text in texts}) == len(pages)
    assert all("scale1:1" in text for text in texts), "the foot is never cut"
    assert all(page.get_width() * POINT_MM == pytest.approx(pages[0].get_width() * POINT_MM) for page in pages)


@pytest.mark.parametrize("query", ["paper=a7", "side=left", "turns=4", "turns=x", "mark=U99"])
def test_a_print_that_does_not_fit_is_refused(technician, teal, query):
    assert technician.get(f"/api/v1/board-models/teal-8/print?{query}").status_code in (400, 422)


def test_a_board_not_drawn_yet_has_no_print(technician):
    slug = technician.post("/api/v1/unknown-boards", {"name": "Pochard 8"}).json()["slug"]
    assert technician.get(f"/api/v1/board-models/{slug}/print").status_code == 404


def test_a_picture_costs_no_more_than_it_shows(people):
    """One that is small in bytes may be vast in pixels: it is refused by its head, before it is decoded."""
    written = io.BytesIO()
    Image.new("1", (8000, 7000)).save(written, "PNG")
    with pytest.raises(Refusal, match="8000 by 7000 pixels, expected at most 50 million pixels in a PNG"):
        take_picture(written.getvalue(), "vast.png", people[Role.LEAD])
    written = io.BytesIO()
    Image.new("RGB", (9000, 7000), "red").save(written, "JPEG")
    kept = take_picture(written.getvalue(), "phone.jpg", people[Role.LEAD])
    assert (kept.width_px, kept.height_px) == (4000, 3111), "a phone's photograph is made smaller as it is read"
