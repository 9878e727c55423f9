"""A model's start-up map: its own, else lent by its nearest relative or core family, else the order of its rails."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from uvrix.core.boards.alike import alike_words
from uvrix.core.boards.model import Board
from uvrix.core.errors import Refusal
from uvrix.core.readings.points import Places
from uvrix.core.startup.chain import Chain, chain_of
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import family_of, model_board, relatives


@dataclass(frozen=True, slots=True)
class StartupMap:
    """A start-up map and whose it is: `own`, the name of the board or family that lends it, `rails`, or `plan`.

    `alike` says what can be counted on this board and on the one that lends.
    """

    chain: Chain
    source: str
    lender: str
    alike: str = ""


def startup_map(model: BoardModel) -> StartupMap | None:
    """The map that a model's cards are read by; None where it has neither a map nor rails, or is not drawn."""
    board = model_board(model)
    if board is None:
        return None
    if board.startup_nodes:
        return StartupMap(chain_of(board), "own", "")
    lender, nodes = lent_map(model)
    if nodes:
        chain = replace(chain_of(board, nodes), lender=lender)
        return StartupMap(chain, "lent", lender, _alike(board, lender))
    try:
        return StartupMap(chain_of(board), "rails", "")
    except Refusal:
        return None


def lent_map(model: BoardModel) -> tuple[str, Sequence[Mapping[str, Any]]]:
    """Whose map a model may take, the nearest relative's before its family's, and its nodes; empty where nobody's."""
    board = model_board(model)
    relative_of = board.relative_of if board else ""
    for relative in relatives(model.slug, model.family, relative_of):
        if nodes := _nodes_of(model_board(relative)):
            return relative.name, nodes
    family = family_of(model.family)
    nodes = family.document.get("startup", {}).get("nodes", ()) if family else ()
    return (family.name if family and nodes else ""), nodes


def _alike(board: Board, lender: str) -> str:
    """How alike the board is that lends its map; empty where a family lends it."""
    model = BoardModel.objects.filter(name=lender).select_related("newest").first()
    other = model_board(model) if model else None
    return alike_words(board, other) if other else ""


def _nodes_of(board: Board | None) -> Sequence[Mapping[str, Any]]:
    return board.document.get("startup", {}).get("nodes", ()) if board else ()


def with_nodes(places: Places, found: StartupMap | None) -> Places:
    """The names that a powered reading may carry: the model's own, and the nodes of a map that is lent."""
    if found is None:
        return places
    nodes = {node.id: node.point or "" for node in found.chain.nodes}
    return replace(places, nodes={**nodes, **places.nodes})
