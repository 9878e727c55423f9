"""A model's start-up map: its own, else lent by its nearest relative or core family, else the order of its rails."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from uvrix.core.boards.model import Board
from uvrix.core.errors import Refusal
from uvrix.core.readings.points import Places
from uvrix.core.startup.chain import Chain, chain_of
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import family_of, model_board, relatives


@dataclass(frozen=True, slots=True)
class StartupMap:
    """A start-up map and whose it is: `own`, the name of the board or family that lends it, or `rails`."""

    chain: Chain
    source: str
    lender: str


def startup_map(model: BoardModel) -> StartupMap | None:
    """The map that a model's cards are read by; None where it has neither a map nor rails, or is not drawn."""
    board = model_board(model)
    if board is None:
        return None
    if board.document.get("startup", {}).get("nodes"):
        return StartupMap(chain_of(board), "own", "")
    for relative in relatives(model.slug, model.family, str(board.document.get("relative_of", ""))):
        nodes = _nodes_of(model_board(relative))
        if nodes:
            return StartupMap(chain_of(board, nodes), "lent", relative.name)
    family = family_of(model.family)
    if family and (nodes := family.document.get("startup", {}).get("nodes")):
        return StartupMap(chain_of(board, nodes), "lent", family.name)
    try:
        return StartupMap(chain_of(board), "rails", "")
    except Refusal:
        return None


def _nodes_of(board: Board | None) -> Sequence[Mapping[str, Any]]:
    return board.document.get("startup", {}).get("nodes", ()) if board else ()


def with_nodes(places: Places, found: StartupMap | None) -> Places:
    """The names that a powered reading may carry: the model's own, and the nodes of a map that is lent."""
    if found is None:
        return places
    nodes = {node.id: node.point or "" for node in found.chain.nodes}
    return replace(places, nodes={**nodes, **places.nodes})
