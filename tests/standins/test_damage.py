"""The stand-in camera shows damage where it is, on the side where it is, and nothing where there is none."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from uvrix.core.boards.document import read_board
from uvrix.standins.camera import SOUND, Damage, Frame, close_up, seen

BOARD = read_board((Path(__file__).parents[2] / "data/boards/scaup-24.board.json").read_bytes())
PLACES = {part.designator: part.centre for part in BOARD.parts if part.centre}
# Pixels that differ by more than grain and compression.
TELLS = 25.0


def pixels(shot):
    return np.asarray(Image.open(io.BytesIO(shot.jpeg)).convert("RGB"), dtype=float)


def changed(damage, side):
    """The middle of what differs from a sound card on a side, in millimetres; None where nothing does."""
    shot = seen(BOARD, side, damage)
    differs = np.abs(pixels(shot) - pixels(seen(BOARD, side, SOUND))).max(axis=2) > TELLS
    if not differs.any():
        return None
    rows, columns = np.nonzero(differs)
    x, y = shot.place((float(np.median(columns)), float(np.median(rows))))
    return (2 * shot.centre_mm[0] - x if side == "back" else x), y


@pytest.mark.parametrize(
    ("damage", "part", "side"),
    [
        (Damage(gone=frozenset({"U62"})), "U62", "back"),
        (Damage(gone=frozenset({"U64"})), "U64", "front"),
        (Damage(burnt=frozenset({"U71"})), "U71", "front"),
        (Damage(burnt=frozenset({"U62"})), "U62", "back"),
    ],
)
def test_a_part_that_is_gone_or_burnt_is_seen_at_its_place_and_on_its_side_alone(damage, part, side):
    found = changed(damage, side)
    assert found is not None
    x, y = (float(coordinate) for coordinate in PLACES[part])
    assert abs(found[0] - x) < 2
    assert abs(found[1] - y) < 2
    assert changed(damage, "front" if side == "back" else "back") is None


def test_a_torn_contact_lacks_its_gold_on_its_own_side():
    assert changed(Damage(torn=frozenset({"B41"})), "front") is not None
    assert changed(Damage(torn=frozenset({"B41"})), "back") is None
    assert changed(Damage(torn=frozenset({"A20"})), "back") is not None


def test_a_close_up_shows_its_place_larger():
    x, y = (float(coordinate) for coordinate in PLACES["U71"])
    shot = close_up(BOARD, Frame("front", (x, y), (40, 30)), Damage(burnt=frozenset({"U71"})))
    assert (shot.width_px, shot.height_px) == (800, 600)
    picture = pixels(shot)
    assert picture[280:320, 380:420].mean() < picture[:40, :40].mean()
