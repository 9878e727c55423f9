"""A board with what its core family lends it: rails and start-up where its own file has none."""

from __future__ import annotations

from typing import Any

from uvrix.core.boards.document import board_unchecked
from uvrix.core.boards.families import Family, inherited
from uvrix.core.boards.model import Board
from uvrix.core.case.power import point_of
from uvrix.core.case.touches import touches_of
from uvrix.language import gettext

# What stands on the boards that the family's map was drawn from, and on no other.
OF_ANOTHER_BOARD = frozenset({"parts", "point"})


def with_lent(board: Board, family: Family | None, name: str) -> Board:
    """The board with its family's rails and start-up; the family's `name` says who lends them.

    A lent node that is a rail of this board is read where this board's own points read that rail.
    """
    document, lacking = inherited(dict(board.document), family)
    if "startup" in lacking:
        points = {point.id for point in board.points}
        touches = touches_of(board_unchecked({key: document[key] for key in document if key != "startup"}))
        nodes = []
        for node in document["startup"]["nodes"]:
            kept: dict[str, Any] = {key: node[key] for key in node if key not in OF_ANOTHER_BOARD}
            own = point_of(node["id"], touches)
            nodes.append({**kept, "point": own} if node["id"] in touches.rails and own in points else kept)
        document = {
            **document,
            "startup": {"nodes": nodes, "lent_by": gettext("the family {family_name}", family_name=name)},
        }
    return board_unchecked(document) if lacking else board
